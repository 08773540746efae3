package finding

import (
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/internal/answers"
	"uzzel/internal/library"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// textOf is a report's sentence, and the words of its fields.
func textOf(v *answers.View, r library.Report) (text, fields string) {
	bound, err := brief.Bind(r.Brief.Brief(), v.Snap.Schema)
	if err != nil {
		return "", ""
	}
	var words []string
	for _, c := range bound.Columns {
		words = append(words, brief.ValueWords(c))
	}
	for _, g := range bound.Groups {
		if f := g.Values[0].Field; f != nil && len(f.Choices) <= mostChoices {
			words = append(words, f.Choices...)
		}
	}
	text = v.Say(bound).String()
	return text, strings.Join(append(words, tradeWords(text+"\n"+strings.Join(words, "\n"))...), "\n")
}

// mostChoices is how many values a group's field has at most for them to be searched.
const mostChoices = 60

// trade are words that people look for, by what they are called here.
var trade = map[string][]string{
	"value":         {"revenue", "turnover", "sales", "income"},
	"to-do":         {"task"},
	"call":          {"phone"},
	"video meeting": {"meeting", "conference"},
	"site visit":    {"meeting", "appointment"},
	"likelihood":    {"probability", "forecast"},
	"stage":         {"pipeline", "phase"},
	"days to close": {"cycle"},
}

// tradeWords are other words for what a text is about.
func tradeWords(text string) []string {
	folded, list := column.Fold(text), []string(nil)
	for word, others := range trade {
		if strings.Contains(folded, word) {
			list = append(list, others...)
		}
	}
	return list
}

func sayFind(v *answers.View, f Find, in library.Reach) string {
	said := map[string]string{"": "Reports, dashboards and folders", store.KindReport: "Reports", store.KindBoard: "Dashboards", store.KindFolder: "Folders"}[f.Kind]
	switch f.Whose {
	case "":
	case "mine":
		said += " of mine"
	case "team":
		said += " of my team"
	default:
		id, _ := strconv.ParseInt(f.Whose, 10, 64)
		said += " of " + people.Name(v.Snap, id)
	}
	add := func(on bool, text string) {
		if on {
			said += ", " + text
		}
	}
	add(f.Favourite, "favourites")
	add(f.Opened, "opened lately")
	add(f.For == "me", "kept for me alone")
	add(f.For == "team", "kept for my team")
	if folder := in.Folders[f.Folder]; folder != nil {
		add(true, "in “"+folder.Name+"”")
	}
	add(f.Board == "none", "on no dashboard")
	add(f.Board != "" && f.Board != "none", "on one dashboard")
	if t := v.Snap.Schema.Type(f.Start); t != nil {
		add(true, "about "+strings.ToLower(t.Label))
	}
	if f.Changed != "" {
		add(true, "changed "+strings.ReplaceAll(f.Changed, "_", " "))
	}
	add(f.Deleted, "recently deleted")
	add(strings.TrimSpace(f.Search) != "", "with the words “"+strings.TrimSpace(f.Search)+"”")
	return said + "."
}
