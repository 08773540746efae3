package brief

import (
	"regexp"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/core/period"
)

// nameOwn settles what own fields are called: by their labels, told apart where two would read the same, and put in
// quotes where a field of the record has the same name.
func (s *sayer) nameOwn() {
	s.own = map[*BoundOwn]ownName{}
	for _, p := range s.b.Parts {
		fields := map[string]bool{}
		for i := range p.Start().Fields {
			fields[lower(p.Start().Fields[i].Label)] = true
		}
		for _, u := range period.Units {
			fields[strings.ReplaceAll(string(u), "_", " ")] = true
		}
		taken := map[string]bool{}
		for _, v := range p.Own {
			name := label(v.Own.Source.Name())
			if fields[name] {
				taken[column.Fold(name)] = true
			}
			name = unlike(name, taken)
			s.own[v.Own] = ownName{name, fields[column.Fold(name)]}
		}
	}
}

type ownName struct {
	name  string
	quote bool
}

// unlike gives a name a number where another has the name already, and notes it as taken.
func unlike(name string, taken map[string]bool) string {
	got := name
	for n := 2; taken[column.Fold(got)]; n++ {
		got = name + " " + strconv.Itoa(n)
	}
	taken[column.Fold(got)] = true
	return got
}

// Name is what an own field is called: its label, else one made from its key.
func (o *Own) Name() string {
	if o.Label != "" {
		return o.Label
	}
	return upper(strings.ReplaceAll(o.Key, "_", " "))
}

// label is a text that can be in curly quotes.
func label(text string) string {
	return strings.Map(func(c rune) rune {
		if c == '“' || c == '”' {
			return '\''
		}
		return c
	}, strings.TrimSpace(text))
}

// words names a value in the sentence.
func (s *sayer) words(v *Value) string {
	if v.Own == nil {
		return words(v)
	}
	name := s.own[v.Own].name
	if !s.own[v.Own].quote && quoted(name) == name {
		if last := name[strings.LastIndexByte(name, ' ')+1:]; last != "first" && !strings.HasSuffix(last, "'s") &&
			!strings.HasSuffix(last, "'") {
			return name
		}
	}
	return "“" + name + "”"
}

// ownField says how an own field is worked out: "Last call as the latest date of its activities (kind is Call)".
func (s *sayer) ownField(v *Value) string {
	o := v.Own
	said := s.words(v) + " as "
	switch {
	case o.Formula != nil:
		named := map[string]string{}
		for i, ref := range o.Formula.Refs {
			named[ref.Name] = s.bare(o.Refs[i])
		}
		return said + formulaWords(o.Source.Formula, named)
	case o.Bands != nil:
		var edges []string
		for _, e := range o.Source.Bands.Edges {
			edges = append(edges, s.amount(o.Bands.Of.Kind, e))
		}
		return said + s.words(o.Bands.Of) + " in bands from " + join(edges, "and")
	case o.Merge != nil:
		return said + s.words(o.Merge.Of) + " merged: " + mergeWords(o.Source.Merge)
	}
	return said + s.linked(o.Linked)
}

// bare names a value without quotes, which formulas put where they need them.
func (s *sayer) bare(v *Value) string {
	if v.Own != nil {
		return s.own[v.Own].name
	}
	return words(v)
}

func mergeWords(m *Merge) string {
	var sets []string
	for _, set := range m.Sets {
		var vals []string
		for _, v := range set.Values {
			vals = append(vals, quoted(v))
		}
		sets = append(sets, quoted(set.Label)+" ("+strings.Join(vals, ", ")+")")
	}
	if m.Rest != "" {
		sets = append(sets, quoted(m.Rest)+" (all others)")
	}
	return strings.Join(sets, ", ")
}

func (s *sayer) linked(l *BoundLinked) string {
	of := " of its " + s.link(l.Hops, l.Back)
	switch l.Fn {
	case "filled":
		of = "how many" + of + " have " + article(s.words(l.Of)) + " " + s.words(l.Of)
	case "count":
		of = "the count" + of
	case "newest", "oldest":
		of = "the " + s.words(l.Of) + " of the " + l.Fn + of + " by " + s.words(l.By)
	default:
		of = "the " + s.function(l.Fn, l.Of) + of
	}
	return of + s.where(l.Where)
}

// formulaToken finds the texts, the names and the function names of a formula.
var formulaToken = regexp.MustCompile(`"[^"]*"|[a-z][a-z0-9_]*(\.[a-z][a-z0-9_]*)*(\s*\()?`)

// formulaWords says a formula with names for its keys and paths, in curly quotes where a name is not one plain word.
func formulaWords(formula string, named map[string]string) string {
	return formulaToken.ReplaceAllStringFunc(formula, func(token string) string {
		name, ok := named[token]
		if !ok {
			// "value (" is no function, but a name before a bracket is no formula either.
			return token
		}
		if oneWord.MatchString(name) && !Reserved(name) {
			return name
		}
		return "“" + name + "”"
	})
}

var oneWord = regexp.MustCompile(`^\p{L}[\p{L}\p{N}_]*$`)

// Reserved says whether a word means something in formulas by itself.
func Reserved(word string) bool {
	_, function := functionArgs[word]
	return function || word == "and" || word == "or" || word == "not"
}
