package capture

import (
	"slices"
	"strings"

	"raconte/core/words"
)

// Language is one that sentences are made in, by its tag (BCP 47).
type Language string

// The languages of sentences.
const (
	English Language = "en"
	German  Language = "de"
	French  Language = "fr"
	Spanish Language = "es"
)

// Languages are all of them, as people choose among them.
var Languages = []Language{English, German, French, Spanish}

// LanguageOf is the language of a tag, or English where there are no sentences in it.
func LanguageOf(tag string) Language {
	l, _, _ := strings.Cut(strings.ToLower(tag), "-")
	if slices.Contains(Languages, Language(l)) {
		return Language(l)
	}
	return English
}

// The styles of core/words that the words use.
const (
	styleControl = "control"
	styleKeycap  = "keycap"
)

// phrase is a sentence with places: {name} for what was used, {what} for what was put in, {keys} for keys.
type phrase int

const (
	press phrase = iota
	choose
	open
	clickIn
	click
	clickHere
	clickDrawing
	clickInDrawing
	doubleClick
	rightClick
	pointAt
	pointHere
	tick
	untick
	turnOn
	turnOff
	typeIn
	typeHere
	typePassword
	enterDate
	pressKeys
	chooseIn
	setTo
	dragTo
	dragIt
	dragHere
	chooseFile
	scrollTo
	goBack
	goToTab
	seeResult
	aText
	theDate
	theTime
	theMail
	theNumber
	phrases // how many there are
)

var wordings = map[Language][phrases]string{
	English: {
		press: "Press {name}.", choose: "Choose {name}.", open: "Open {name}.", clickIn: "Click in {name}.", click: "Click {name}.",
		clickHere: "Click here.", clickDrawing: "Click in the drawing.", clickInDrawing: "Click in the drawing {name}.",
		doubleClick: "Double-click {name}.", rightClick: "Right-click {name}.", pointAt: "Point at {name}.", pointHere: "Point here.",
		tick: "Tick {name}.", untick: "Clear {name}.", turnOn: "Turn {name} on.", turnOff: "Turn {name} off.",
		typeIn: "Type {what} in {name}.", typeHere: "Type {what}.", typePassword: "Type your password in {name}.",
		enterDate: "Enter the date in {name}.", pressKeys: "Press {keys}.", chooseIn: "Choose {option} in {name}.",
		setTo: "Set {name} to {option}.", dragTo: "Drag {name} to {option}.", dragIt: "Drag {name}.", dragHere: "Drag this.",
		chooseFile: "Choose a file in {name}.", scrollTo: "Scroll to {name}.", goBack: "Go back.",
		goToTab: "Go to the tab {name}.", seeResult: "You see the result.",
		aText: "the text", theDate: "the date", theTime: "the time", theMail: "the e-mail address", theNumber: "the number",
	},
	German: {
		press: "Drücken Sie {name}.", choose: "Wählen Sie {name}.", open: "Öffnen Sie {name}.", clickIn: "Klicken Sie in {name}.", click: "Klicken Sie auf {name}.",
		clickHere: "Klicken Sie hier.", clickDrawing: "Klicken Sie in die Zeichnung.", clickInDrawing: "Klicken Sie in die Zeichnung {name}.",
		doubleClick: "Doppelklicken Sie auf {name}.", rightClick: "Klicken Sie mit der rechten Maustaste auf {name}.", pointAt: "Zeigen Sie auf {name}.", pointHere: "Zeigen Sie hierhin.",
		tick: "Setzen Sie das Häkchen bei {name}.", untick: "Entfernen Sie das Häkchen bei {name}.", turnOn: "Schalten Sie {name} ein.", turnOff: "Schalten Sie {name} aus.",
		typeIn: "Geben Sie {what} in {name} ein.", typeHere: "Geben Sie {what} ein.", typePassword: "Geben Sie Ihr Passwort in {name} ein.",
		enterDate: "Geben Sie das Datum in {name} ein.", pressKeys: "Drücken Sie {keys}.", chooseIn: "Wählen Sie in {name} {option}.",
		setTo: "Stellen Sie {name} auf {option}.", dragTo: "Ziehen Sie {name} auf {option}.", dragIt: "Ziehen Sie {name}.", dragHere: "Ziehen Sie dies.",
		chooseFile: "Wählen Sie in {name} eine Datei.", scrollTo: "Scrollen Sie bis {name}.", goBack: "Gehen Sie zurück.",
		goToTab: "Gehen Sie zum Tab {name}.", seeResult: "Sie sehen das Ergebnis.",
		aText: "den Text", theDate: "das Datum", theTime: "die Uhrzeit", theMail: "die E-Mail-Adresse", theNumber: "die Zahl",
	},
	French: {
		press: "Appuyez sur {name}.", choose: "Choisissez {name}.", open: "Ouvrez {name}.", clickIn: "Cliquez dans {name}.", click: "Cliquez sur {name}.",
		clickHere: "Cliquez ici.", clickDrawing: "Cliquez dans le dessin.", clickInDrawing: "Cliquez dans le dessin {name}.",
		doubleClick: "Double-cliquez sur {name}.", rightClick: "Faites un clic droit sur {name}.", pointAt: "Pointez {name}.", pointHere: "Pointez ici.",
		tick: "Cochez {name}.", untick: "Décochez {name}.", turnOn: "Activez {name}.", turnOff: "Désactivez {name}.",
		typeIn: "Saisissez {what} dans {name}.", typeHere: "Saisissez {what}.", typePassword: "Saisissez votre mot de passe dans {name}.",
		enterDate: "Saisissez la date dans {name}.", pressKeys: "Appuyez sur {keys}.", chooseIn: "Choisissez {option} dans {name}.",
		setTo: "Réglez {name} sur {option}.", dragTo: "Faites glisser {name} vers {option}.", dragIt: "Faites glisser {name}.", dragHere: "Faites glisser ceci.",
		chooseFile: "Choisissez un fichier dans {name}.", scrollTo: "Faites défiler jusqu’à {name}.", goBack: "Revenez en arrière.",
		goToTab: "Passez à l’onglet {name}.", seeResult: "Vous voyez le résultat.",
		aText: "le texte", theDate: "la date", theTime: "l’heure", theMail: "l’adresse e-mail", theNumber: "le nombre",
	},
	Spanish: {
		press: "Pulse {name}.", choose: "Elija {name}.", open: "Abra {name}.", clickIn: "Haga clic en {name}.", click: "Haga clic en {name}.",
		clickHere: "Haga clic aquí.", clickDrawing: "Haga clic en el dibujo.", clickInDrawing: "Haga clic en el dibujo {name}.",
		doubleClick: "Haga doble clic en {name}.", rightClick: "Haga clic con el botón derecho en {name}.", pointAt: "Señale {name}.", pointHere: "Señale aquí.",
		tick: "Marque {name}.", untick: "Desmarque {name}.", turnOn: "Active {name}.", turnOff: "Desactive {name}.",
		typeIn: "Escriba {what} en {name}.", typeHere: "Escriba {what}.", typePassword: "Escriba su contraseña en {name}.",
		enterDate: "Escriba la fecha en {name}.", pressKeys: "Pulse {keys}.", chooseIn: "Elija {option} en {name}.",
		setTo: "Ajuste {name} a {option}.", dragTo: "Arrastre {name} a {option}.", dragIt: "Arrastre {name}.", dragHere: "Arrastre esto.",
		chooseFile: "Elija un archivo en {name}.", scrollTo: "Desplácese hasta {name}.", goBack: "Vuelva atrás.",
		goToTab: "Vaya a la pestaña {name}.", seeResult: "Verá el resultado.",
		aText: "el texto", theDate: "la fecha", theTime: "la hora", theMail: "la dirección de correo", theNumber: "el número",
	},
}

func (l Language) phrase(p phrase) string {
	if of, ok := wordings[l]; ok {
		return of[p]
	}
	return wordings[English][p]
}

// say fills a phrase: name is a control, or keys where the phrase has {keys}; what is said as it is in {what}, and as a
// control in {option}.
func (l Language) say(p phrase, name, what string) words.Node {
	var content []words.Node
	add := func(text string, style ...words.Style) {
		if text != "" {
			content = append(content, words.Node{Type: "text", Text: text, Marks: style})
		}
	}
	rest := l.phrase(p)
	for {
		before, after, found := strings.Cut(rest, "{")
		add(before)
		if !found {
			break
		}
		place, then, _ := strings.Cut(after, "}")
		switch place {
		case "name":
			add(name, words.Style{Type: styleControl})
		case "keys":
			add(name, words.Style{Type: styleKeycap})
		case "option":
			add(what, words.Style{Type: styleControl})
		case "what":
			add(what)
		}
		rest = then
	}
	return words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: content}}}
}
