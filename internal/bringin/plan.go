package bringin

import (
	"slices"
	"strings"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/records"
)

// Column is what a column of a file is: a field, or a day in the history of stages (fieldOf), "" for one that is left out, and the form that its values are written in: "" where
// it is to be recognised.
type Column struct {
	Field  string
	Form   string
	Unsure bool // another form would read the values as well
}

// Plan is how a file is brought in.
type Plan struct {
	Type    string
	Columns []Column
	// Key is the field by which a line is found among the records that are there, "" where all lines are new.
	Key string
	// Make has records that links name and that are not there be made, with their name; else such lines are refused.
	Make bool
}

// words are what columns of other systems are called, by the field that they most often are.
var words = map[string][]string{
	"name": {
		"title",
		"subject",
		"full name",
		"company",
		"company name",
		"organisation",
		"organization",
		"firm",
		"client",
	},
	"customer":       {"company", "company name", "organisation", "organization", "firm", "client", "account"},
	"contact":        {"person", "contact person", "contact name"},
	"email":          {"e-mail", "mail", "e-mail address", "email address"},
	"phone":          {"telephone", "tel", "mobile", "phone number"},
	"job":            {"position", "function", "job title", "role"},
	"owner":          {"seller", "salesperson", "responsible", "sales rep", "assigned to", "account manager"},
	"value":          {"amount", "sum", "total", "price", "volume"},
	"likelihood":     {"probability", "chance"},
	"expected_close": {"close date", "closing date", "expected closing", "due"},
	"closed":         {"closed on", "date closed", "won on"},
	"created":        {"created on", "created at", "date created", "creation date", "entered"},
	"kind":           {"type", "category", "activity type"},
	"happens":        {"date", "when", "start", "due date"},
	"done":           {"completed", "finished"},
	"notes":          {"description", "comment", "comments", "text", "remarks"},
	"city":           {"town", "place"},
	"postcode":       {"zip", "postal code", "zip code"},
	"segment":        {"industry", "sector", "branch"},
	"source":         {"origin", "lead source", "came from"},
	"id":             {"number", "no", "nr", "record id", "key"},
	"minutes":        {"duration", "length"},
}

func plain(s string) string {
	return strings.Join(
		strings.FieldsFunc(column.Fold(s), func(r rune) bool { return strings.ContainsRune(" _-./()*:", r) }),
		" ",
	)
}

// fields are those of a type that a column can be: those that people write, a record's own number, and when it was made.
func fields(t *schema.Type) []*schema.Field {
	var list []*schema.Field
	for i := range t.Fields {
		f := &t.Fields[i]
		if (f.Written() && !f.Retired) || f.Kind == schema.ID || f.Key == "created" {
			list = append(list, f)
		}
	}
	return list
}

// Guess says what a file's columns most likely are: by the names of fields, by the words of the trade, and how their
// values are written by the values.
func Guess(v *answers.View, s *Sheet, typ string) Plan {
	t := v.Snap.Schema.Type(typ)
	p := matched(t, s)
	recognise(v, t, s, p.Columns)
	return p
}

// matched says what a file's columns most likely are by their names.
func matched(t *schema.Type, s *Sheet) Plan {
	p := Plan{Type: t.Key, Columns: make([]Column, len(s.Header)), Make: true}
	taken := map[string]bool{}
	match := func(is func(f *schema.Field, name string) bool) {
		for i, h := range s.Header {
			if p.Columns[i].Field != "" {
				continue
			}
			for _, f := range fields(t) {
				if !taken[f.Key] && is(f, plain(h)) {
					p.Columns[i].Field, taken[f.Key] = f.Key, true
					break
				}
			}
		}
	}
	match(func(f *schema.Field, name string) bool { return name == plain(f.Key) || name == plain(f.Label) })
	match(func(f *schema.Field, name string) bool {
		if f.Key == t.Name && t.Field("customer") != nil && slices.Contains(words["customer"], name) {
			return false // a deal's company is its customer, a customer's its name
		}
		for _, w := range words[f.Key] {
			if name == plain(w) {
				return true
			}
		}
		return t.Name == f.Key && (name == plain(t.One) || name == plain(t.One)+" name")
	})
	pastColumns(t, s, p.Columns, taken)
	match(func(f *schema.Field, name string) bool {
		return len(name) > 3 && (strings.Contains(name, plain(f.Label)) || strings.Contains(name, " "+plain(f.Key)))
	})
	return p
}

// recognise says of the columns whose form is not said in which their values are written.
func recognise(v *answers.View, t *schema.Type, s *Sheet, columns []Column) {
	for i := range columns {
		c := &columns[i]
		if f := fieldOf(t, c.Field); f != nil && c.Form == "" {
			c.Form, c.Unsure = formOf(f, sample(s, i), likeHere(v, f))
		}
	}
}

// likeHere is the form that values of a field have where the organisation writes them.
func likeHere(v *answers.View, f *schema.Field) string {
	switch {
	case f.Kind.Numeric() && v.Figures.Form.Number("1.5") == "1,5":
		return Comma
	case f.Kind.Numeric():
		return Point
	case v.Figures.Form.Way() == "iso":
		return Year
	}
	return Day
}

// GuessType is what a file's columns most likely are, as records of the type that most of them belong to and that the
// file's name speaks of.
func GuessType(v *answers.View, s *Sheet) Plan {
	best, most := "", -1
	for _, t := range v.Snap.Schema.Types {
		if !records.Writes(v.Snap.Schema, t) {
			continue
		}
		score := 0
		for _, c := range matched(t, s).Columns {
			if c.Field != "" {
				score += 2
			}
			if f := t.Field(c.Field); f != nil && f.Key == t.Name {
				score++
			}
		}
		for _, word := range []string{t.Label, t.Key, t.One} {
			if strings.Contains(plain(s.Name), plain(word)) {
				score += 5
				break
			}
		}
		if score > most {
			best, most = t.Key, score
		}
	}
	return Guess(v, s, best)
}

// sample is the first cells of a column that are not empty.
func sample(s *Sheet, col int) []string {
	var list []string
	for _, row := range s.Rows {
		if cell := strings.TrimSpace(row[col]); cell != "" {
			if list = append(list, cell); len(list) == 1000 {
				break
			}
		}
	}
	return list
}

// Refused is a line that cannot be brought in, with the column at fault and why.
type Refused struct {
	Line   int
	Column string
	Reason string
	Cells  []string
}

// Outcome is what would come of a file, or came of it.
type Outcome struct {
	New, Changed, Same int
	Refused            []Refused
	// Makes are the records that are made because links name them, by the label of their type.
	Makes map[string]int
	// Columns are as they were read: in the form that was recognised where the plan names none.
	Columns []Column
	// Unknown are the values that are none of the choices, by field; the lines that have them are refused.
	Unknown map[string][]string

	creates []records.Make
	edits   []records.Edit
}
