// Package docs holds the pages for people; code reads one of them.
package docs

import _ "embed"

// BundleSchema is the JSON Schema of a bundle's document.json.
//
//go:embed bundle.schema.json
var BundleSchema []byte
