package style

import "maps"

// How references read in the middle of a sentence, by language: said has them by these keys. {n} is a number, {mark}
// and {picture} are read by other keys.
func init() {
	for language, words := range map[Language]map[string]string{
		English: {
			"to step": "step {n}", "to section": "section {n}", "to chapter": "chapter {n}", "to picture": "picture {n}", "to mark": "{mark} in {picture}",
			"no words": "No words yet", "no heading": "No heading yet", "not here": "A document that is not here",
			"mark arrow": "the arrow", "mark line": "the line", "mark box": "the box", "mark ellipse": "the ellipse", "mark pen": "the pen", "mark text": "the text",
			"mark note": "the note", "mark concealment": "the concealment", "mark patch": "the patch", "mark highlight": "the highlight", "mark light": "the light",
			"mark detail": "the detail", "mark inset": "the inset", "mark pointer": "the mouse pointer",
		},
		German: {
			"to step": "Schritt {n}", "to section": "Abschnitt {n}", "to chapter": "Kapitel {n}", "to picture": "Bild {n}", "to mark": "{mark} in {picture}",
			"no words": "Noch ohne Text", "no heading": "Noch ohne Überschrift", "not here": "Ein Dokument, das es hier nicht gibt",
			"mark arrow": "Pfeil", "mark line": "Linie", "mark box": "Rahmen", "mark ellipse": "Ellipse", "mark pen": "Strich", "mark text": "Text",
			"mark note": "Hinweis", "mark concealment": "Abdeckung", "mark patch": "Überdeckung", "mark highlight": "Hervorhebung", "mark light": "Aufhellung",
			"mark detail": "Ausschnitt", "mark inset": "Einsatz", "mark pointer": "Mauszeiger",
		},
		French: {
			"to step": "étape {n}", "to section": "section {n}", "to chapter": "chapitre {n}", "to picture": "image {n}", "to mark": "{mark}, {picture}",
			"no words": "Pas encore de texte", "no heading": "Pas encore de titre", "not here": "Un document absent d’ici",
			"mark arrow": "la flèche", "mark line": "la ligne", "mark box": "le cadre", "mark ellipse": "l’ellipse", "mark pen": "le trait", "mark text": "le texte",
			"mark note": "la note", "mark concealment": "le masque", "mark patch": "le fond", "mark highlight": "le surlignage", "mark light": "l’éclairage",
			"mark detail": "le détail", "mark inset": "l’encart", "mark pointer": "le pointeur",
		},
		Spanish: {
			"to step": "paso {n}", "to section": "sección {n}", "to chapter": "capítulo {n}", "to picture": "imagen {n}", "to mark": "{mark} en {picture}",
			"no words": "Todavía sin texto", "no heading": "Todavía sin título", "not here": "Un documento que no está aquí",
			"mark arrow": "la flecha", "mark line": "la línea", "mark box": "el recuadro", "mark ellipse": "la elipse", "mark pen": "el trazo", "mark text": "el texto",
			"mark note": "la nota", "mark concealment": "la ocultación", "mark patch": "el parche", "mark highlight": "el resaltado", "mark light": "la luz",
			"mark detail": "el detalle", "mark inset": "el recorte", "mark pointer": "el puntero",
		},
	} {
		maps.Copy(said[language], words)
	}
}
