package store

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"

	"raconte/core/document"

	"gorm.io/gorm/schema"
)

// contentSerializer keeps the content of blocks as JSON in today's format, and reads every format there ever was.
type contentSerializer struct{}

func init() { schema.RegisterSerializer("content", contentSerializer{}) }

// Scan reads what a row holds.
func (contentSerializer) Scan(ctx context.Context, field *schema.Field, dst reflect.Value, value any) error {
	var raw []byte
	switch v := value.(type) {
	case nil:
		return nil
	case []byte:
		raw = v
	case string:
		raw = []byte(v)
	default:
		return fmt.Errorf("a block's content is no text but a %T", value)
	}
	content, err := document.ReadContent(raw)
	if err == nil {
		field.ReflectValueOf(ctx, dst).Set(reflect.ValueOf(content))
	}
	return err
}

// Value is what a row gets.
func (contentSerializer) Value(_ context.Context, _ *schema.Field, _ reflect.Value, value any) (any, error) {
	content, _ := value.(document.Content)
	raw, err := json.Marshal(document.Store(content))
	return string(raw), err
}
