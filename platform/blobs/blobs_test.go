package blobs_test

import (
	"context"
	"testing"

	"raconte/platform/blobs"
	"raconte/platform/blobs/blobstest"

	"github.com/stretchr/testify/require"
)

func TestStores(t *testing.T) {
	for name, open := range map[string]func(t *testing.T) (*blobs.Bucket, error){
		"folder": func(t *testing.T) (*blobs.Bucket, error) { return blobs.OpenFolder(context.Background(), t.TempDir()) },
		"memory": func(t *testing.T) (*blobs.Bucket, error) { return blobs.Open(context.Background(), "mem://") },
	} {
		t.Run(name, func(t *testing.T) {
			blobstest.Run(t, func(t *testing.T) *blobs.Bucket {
				b, err := open(t)
				require.NoError(t, err)
				t.Cleanup(func() { _ = b.Close() })
				return b
			})
		})
	}
}
