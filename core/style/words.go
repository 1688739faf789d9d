package style

import (
	"strconv"
	"strings"
)

// Language is that of the words printed around what was written, by its tag of BCP 47.
type Language string

// The languages that ship.
const (
	English Language = "en"
	German  Language = "de"
	French  Language = "fr"
	Spanish Language = "es"
)

// Languages are all of them with their own names, in the order in which people are offered them.
var Languages = []struct {
	Tag  Language
	Name string
}{{English, "English"}, {German, "Deutsch"}, {French, "Français"}, {Spanish, "Español"}}

// Known tells whether words are printed in the language.
func (l Language) Known() bool { return said[l] != nil }

// said are the words printed, by language and key. Signal words are those of ANSI Z535.6 and its translations.
var said = map[Language]map[string]string{
	English: {
		"step": "Step", "steps": "Steps", "contents": "Contents", "page": "Page", "pages": "Page {page} of {pages}", "picture": "Picture",
		"critical": "Critical step: make sure of it before you go on", "do": "Do", "clip": "Clip of {time}", "play": "Play the clip", "film": "Film", "index": "Index",
		"procedure": "Procedure", "manual": "Manual", "filed": "Filed PDF",
		"report": "Bug report", "request": "Support request", "answer": "Answer",
		"asks happened": "What happened", "asks expected": "What was expected", "asks often": "How often", "asks bad": "How bad it is", "asks where": "Where",
		"asks wanted": "What I want to do", "asks wrong": "What goes wrong", "asks tried": "What I tried", "asks urgent": "How urgent it is", "asks reach": "How to reach me", "asks reply": "Answer",
		"asks repeat": "Steps to make it happen again",
		"number":      "Number", "effective": "Holds from", "review": "Next review", "owner": "Owner", "author": "Author",
		"approver": "Approver", "classification": "Classification", "state": "State", "revision": "Revision", "draft": "Draft",
		"one step": "1 step", "many steps": "{n} steps", "about": "about {time}", "least": "at least {time}", "changed": "Changed by {name} on {date}.", "approved": "Approved by {name} on {date} ({digest}).",
		"stamp draft": "DRAFT", "draft stamp": "DRAFT: not ready for use", "stamp replaced": "REPLACED",
		"replaced stamp": "REPLACED: revision {n} is valid", "link": "Link", "back": "Back", "next": "Next",
		"danger": "DANGER", "warning": "WARNING", "caution": "CAUTION", "notice": "NOTICE",
	},
	German: {
		"step": "Schritt", "steps": "Schritte", "contents": "Inhalt", "page": "Seite", "pages": "Seite {page} von {pages}", "picture": "Bild",
		"critical": "Kritischer Schritt: vor dem Weitergehen prüfen", "do": "Ausführen", "clip": "Clip von {time}", "play": "Clip abspielen", "film": "Film", "index": "Stichwörter",
		"procedure": "Anleitung", "manual": "Handbuch", "filed": "Abgelegtes PDF",
		"report": "Fehlerbericht", "request": "Supportanfrage", "answer": "Antwort",
		"asks happened": "Was geschah", "asks expected": "Was erwartet war", "asks often": "Wie oft", "asks bad": "Wie schlimm", "asks where": "Wo",
		"asks wanted": "Was ich tun will", "asks wrong": "Was nicht geht", "asks tried": "Was ich versucht habe", "asks urgent": "Wie dringend", "asks reach": "Wie ich erreichbar bin", "asks reply": "Antwort",
		"asks repeat": "Schritte, mit denen es wieder geschieht",
		"number":      "Nummer", "effective": "Gültig ab", "review": "Nächste Prüfung", "owner": "Zuständig", "author": "Verfasst von",
		"approver": "Freigegeben von", "classification": "Einstufung", "state": "Stand", "revision": "Revision", "draft": "Entwurf",
		"one step": "1 Schritt", "many steps": "{n} Schritte", "about": "etwa {time}", "least": "mindestens {time}", "changed": "Geändert von {name} am {date}.", "approved": "Freigegeben von {name} am {date} ({digest}).",
		"stamp draft": "ENTWURF", "draft stamp": "ENTWURF: nicht zur Verwendung", "stamp replaced": "ERSETZT",
		"replaced stamp": "ERSETZT: gültig ist Revision {n}", "link": "Verweis", "back": "Zurück", "next": "Weiter",
		"danger": "GEFAHR", "warning": "WARNUNG", "caution": "VORSICHT", "notice": "HINWEIS",
	},
	French: {
		"step": "Étape", "steps": "Étapes", "contents": "Sommaire", "page": "Page", "pages": "Page {page} sur {pages}", "picture": "Image",
		"critical": "Étape critique : vérifier avant de continuer", "do": "Faire", "clip": "Séquence de {time}", "play": "Voir la séquence", "film": "Film", "index": "Index",
		"procedure": "Procédure", "manual": "Manuel", "filed": "PDF classé",
		"report": "Rapport d’anomalie", "request": "Demande d’aide", "answer": "Réponse",
		"asks happened": "Ce qui s’est passé", "asks expected": "Ce qui était attendu", "asks often": "À quelle fréquence", "asks bad": "Gravité", "asks where": "Où",
		"asks wanted": "Ce que je veux faire", "asks wrong": "Ce qui ne va pas", "asks tried": "Ce que j’ai essayé", "asks urgent": "Urgence", "asks reach": "Comment me joindre", "asks reply": "Réponse",
		"asks repeat": "Étapes pour le reproduire",
		"number":      "Numéro", "effective": "Valable dès le", "review": "Prochaine revue", "owner": "Responsable", "author": "Auteur",
		"approver": "Approuvé par", "classification": "Classification", "state": "État", "revision": "Révision", "draft": "Brouillon",
		"one step": "1 étape", "many steps": "{n} étapes", "about": "environ {time}", "least": "au moins {time}", "changed": "Modifié par {name} le {date}.", "approved": "Approuvé par {name} le {date} ({digest}).",
		"stamp draft": "BROUILLON", "draft stamp": "BROUILLON : ne pas utiliser", "stamp replaced": "REMPLACÉ",
		"replaced stamp": "REMPLACÉ : la révision {n} est valable", "link": "Lien", "back": "Retour", "next": "Suivant",
		"danger": "DANGER", "warning": "AVERTISSEMENT", "caution": "ATTENTION", "notice": "AVIS",
	},
	Spanish: {
		"step": "Paso", "steps": "Pasos", "contents": "Contenido", "page": "Página", "pages": "Página {page} de {pages}", "picture": "Imagen",
		"critical": "Paso crítico: compruébelo antes de seguir", "do": "Hacer", "clip": "Clip de {time}", "play": "Ver el clip", "film": "Película", "index": "Índice",
		"procedure": "Procedimiento", "manual": "Manual", "filed": "PDF archivado",
		"report": "Informe de error", "request": "Solicitud de ayuda", "answer": "Respuesta",
		"asks happened": "Qué ocurrió", "asks expected": "Qué se esperaba", "asks often": "Con qué frecuencia", "asks bad": "Gravedad", "asks where": "Dónde",
		"asks wanted": "Qué quiero hacer", "asks wrong": "Qué falla", "asks tried": "Qué he intentado", "asks urgent": "Urgencia", "asks reach": "Cómo localizarme", "asks reply": "Respuesta",
		"asks repeat": "Pasos para reproducirlo",
		"number":      "Número", "effective": "Vigente desde", "review": "Próxima revisión", "owner": "Responsable", "author": "Autor",
		"approver": "Aprobado por", "classification": "Clasificación", "state": "Estado", "revision": "Revisión", "draft": "Borrador",
		"one step": "1 paso", "many steps": "{n} pasos", "about": "unos {time}", "least": "al menos {time}", "changed": "Modificado por {name} el {date}.", "approved": "Aprobado por {name} el {date} ({digest}).",
		"stamp draft": "BORRADOR", "draft stamp": "BORRADOR: no usar", "stamp replaced": "SUSTITUIDO",
		"replaced stamp": "SUSTITUIDO: vale la revisión {n}", "link": "Enlace", "back": "Atrás", "next": "Siguiente",
		"danger": "PELIGRO", "warning": "ADVERTENCIA", "caution": "ATENCIÓN", "notice": "AVISO",
	},
}

// Said is a word that is printed, in the style's own wording or its language; values are what its placeholders stand
// for, by turns a name and a value.
func (s Style) Said(key string, values ...string) string {
	word, own := s.Words[key]
	if !own || word == "" {
		word = said[s.Language][key]
	}
	if word == "" {
		word = said[English][key]
	}
	for i := 0; i+1 < len(values); i += 2 {
		word = strings.ReplaceAll(word, "{"+values[i]+"}", values[i+1])
	}
	return word
}

// CountedSteps is "7 steps".
func (s Style) CountedSteps(n int) string {
	if n == 1 {
		return s.Said("one step")
	}
	return s.Said("many steps", "n", strconv.Itoa(n))
}

// Printable are the keys and words of a language, for those who word them otherwise.
func Printable(l Language) map[string]string { return said[l] }
