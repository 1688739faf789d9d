// Package bundle reads and writes bundles: a document with its shots in one zip file, whole and
// lossless. docs/bundle.schema.json describes document.json; within a bundle a figure names its
// shot by the SHA-256 of the shot's file.
package bundle

import (
	"raconte/core/capture"
	"raconte/core/document"
)

// Format and Version are what document.json says of itself.
const (
	Format  = "raconte-bundle"
	Version = 2 // since 2, pictures are turned, folded and concealed
)

// Limits of a bundle.
const (
	MostBytes    = 1 << 30 // of the zip file
	mostEntries  = 5001
	mostJSON     = 64 << 20
	mostUnpacked = 4 << 30
)

// Shot is one shot in a bundle.
type Shot struct {
	File string `json:"file"` // "shots/<sha-256>.png" or ".jpg"
	Name string `json:"name,omitempty"`
	// About is what is known of its capture; nil where nothing is.
	About *capture.About `json:"about,omitempty"`
}

// manifest is document.json.
type manifest struct {
	Format   string            `json:"format"`
	Version  int               `json:"version"`
	Document document.Document `json:"document"`
	Shots    map[string]Shot   `json:"shots"`
}

func fileName(sha, mediaType string) string {
	if mediaType == "image/jpeg" {
		return "shots/" + sha + ".jpg"
	}
	return "shots/" + sha + ".png"
}
