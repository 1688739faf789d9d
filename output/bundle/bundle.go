// Package bundle reads and writes bundles: a document with its chapters, its shots and its PDF in one zip file, whole
// and lossless. docs/bundle.schema.json describes document.json; within a bundle a figure names its
// shot by the SHA-256 of the shot's file.
package bundle

import (
	"raconte/core/capture"
	"raconte/core/document"
	"raconte/output"
)

// MediaFormat and Version are what document.json says of itself.
const (
	MediaFormat = "raconte-bundle"
	Version     = document.Format // since 3, what is known of a shot's capture lies beside the shot; since 4, documents are facts and blocks; since 6, there are several
)

// Limits of a bundle. Whatever document is within its own limits makes a bundle within these.
const (
	MostBytes    = 1 << 30 // of the zip file
	mostEntries  = 4*document.MostShots + document.MostBlocks + 2
	mostJSON     = 64 << 20
	mostValues   = 3_000_000
	mostAbout    = 1 << 20
	mostTold     = 50_000 // values in what is known of a capture
	mostUnpacked = 4 << 30
)

// Shot is one shot in a bundle.
type Shot struct {
	File string `json:"file"` // "shots/<sha-256>.png" or ".jpg"
	Name string `json:"name,omitempty"`
	// About is what is known of its capture; nil where nothing is. Since version 3 it lies in a file of its own,
	// "shots/<sha-256>.json".
	About *capture.About `json:"about,omitempty"`
	Clip  *Clip          `json:"clip,omitempty"` // the recording that it stands for, since version 9
}

// Clip is the recording behind a shot.
type Clip struct {
	File   string `json:"file"`             // "clips/<sha-256>.mp4" or ".webm"
	Camera string `json:"camera,omitempty"` // that of the speaker's camera, named alike
	Ms     int    `json:"ms"`
	Poster int    `json:"poster,omitempty"`
	Sounds bool   `json:"sounds,omitempty"`
}

// manifest is document.json.
type manifest struct {
	Format    string              `json:"format"`
	Version   int                 `json:"version"`
	Documents []document.Document `json:"documents,omitempty"`
	Document  *document.Document  `json:"document,omitempty"` // until version 3
	Shots     map[string]Shot     `json:"shots"`
}

// Media is the media type of bundles.
const Media = "application/zip"

// About names the format.
func (Format) About() output.About {
	return output.About{Name: "bundle", Title: "Bundle, to import elsewhere", Extension: "bundle", MediaType: Media, Whole: true}
}

func fileName(sha, mediaType string) string {
	if mediaType == "image/jpeg" {
		return "shots/" + sha + ".jpg"
	}
	return "shots/" + sha + ".png"
}

func clipName(sha, mediaType string) string {
	if mediaType == "video/webm" {
		return "clips/" + sha + ".webm"
	}
	return "clips/" + sha + ".mp4"
}

func voiceName(sha string) string { return "voices/" + sha + ".wav" }

func pdfName(sha string) string { return "files/" + sha + ".pdf" }

func aboutName(sha string) string { return "shots/" + sha + ".json" }
