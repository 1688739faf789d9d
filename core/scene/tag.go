package scene

// Tag opens or, where Role is empty, closes a part of the structure around the items between. Roles are the standard
// structure types of ISO 32000-1, 14.8.4, and Artifact for what is no part of the document, such as its footers.
type Tag struct {
	Role string `json:"role,omitempty"`
	Alt  string `json:"alt,omitempty"`  // of a Figure; of a Link, what it leads to
	Kind string `json:"kind,omitempty"` // of an Artifact: Header, Footer or Watermark
	Key  string `json:"key,omitempty"`  // of a part that goes on elsewhere, as on the next sheet
}

// Tagger is a renderer that keeps structure.
type Tagger interface{ Tag(Tag) }

// Open begins a part.
func (s *Scene) Open(role string) { s.Begin(Tag{Role: role}) }

// Begin begins a part with more than a role.
func (s *Scene) Begin(t Tag) { s.Items = append(s.Items, Item{Tag: &t}) }

// Close ends the parts that were begun last.
func (s *Scene) Close(parts int) {
	for range parts {
		s.Items = append(s.Items, Item{Tag: &Tag{}})
	}
}
