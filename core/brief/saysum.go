package brief

import (
	"fmt"
	"strings"
)

func (s *sayer) group(g *BoundGroup) string {
	said := GroupLabel(g)
	if g.Group.Label != "" {
		said = quoted(g.Group.Label) + " as " + s.paths(g)
		if g.Group.By != "" {
			said += " by " + unitWords(g)
		}
	} else if len(g.Values) > 1 {
		said = s.paths(g)
		if g.Group.By != "" {
			said += " by " + unitWords(g)
		}
	}
	if g.Group.Every {
		said += ", every one"
	}
	if t := g.Group.Top; t != nil {
		said += fmt.Sprintf(", the %d %s by %s", t.N, or(t.From, "largest"), t.By)
		if t.Rest == "drop" {
			said += " alone"
		} else {
			said += " and Other"
		}
	}
	if o := g.Group.Order; o != nil {
		said += ", in order of " + o.By
		if o.Desc {
			said += " downwards"
		}
	}
	return said
}

func unitWords(g *BoundGroup) string { return strings.ReplaceAll(string(g.Group.By), "_", " ") }

// paths says the value that each part groups by.
func (s *sayer) paths(g *BoundGroup) string {
	if len(g.Values) == 1 {
		return words(g.Values[0])
	}
	var list []string
	for i, v := range g.Values {
		list = append(list, words(v)+" of "+s.b.Parts[i].Part.Key)
	}
	return join(list, "and")
}

// GroupLabel names a group for people: "stage", "created by month".
func GroupLabel(g *BoundGroup) string {
	said := words(g.Values[0])
	if g.Group.Label != "" {
		said = g.Group.Label
	}
	if g.Group.By != "" {
		said += " by " + unitWords(g)
	}
	return said
}

var fnWords = map[string]string{"filled": "number of filled ", "distinct": "number of different ", "sum": "sum of ", "average": "average ",
	"median": "median ", "min": "least ", "max": "greatest "}

var showWords = map[string]string{"percent_of_total": "as a share of the total", "percent_of_parent": "as a share of the group above",
	"percent_of_row": "as a share of the row", "percent_of_column": "as a share of the column", "running_total": "running on", "change": "as the change from the group before"}

// SummaryLabel names a summary for people: its label, or "Sum of value", "Deals".
func SummaryLabel(b *Bound, s *BoundSummary) string {
	src := s.Source
	switch {
	case src.Label != "":
		return src.Label
	case src.Formula != "":
		return strings.ReplaceAll(src.Key, "_", " ")
	case src.Fn == "count" && s.Of == nil:
		return b.Parts[s.Part].Start().Label
	case src.Fn == "count":
		return s.Of.Label
	}
	w := fnWords[src.Fn] + words(s.Of)
	return strings.ToUpper(w[:1]) + w[1:]
}

// named says whether something in the brief goes by a summary's key, which must then be said.
func (s *sayer) named(key string) bool {
	for _, sum := range s.b.Summaries {
		if sum.Formula == nil {
			continue
		}
		for _, r := range sum.Formula.Refs {
			if r.Name == key {
				return true
			}
		}
	}
	for _, g := range s.b.Groups {
		if (g.Group.Top != nil && g.Group.Top.By == key) || (g.Group.Order != nil && g.Group.Order.By == key) {
			return true
		}
	}
	return false
}

func (s *sayer) summary(sum *BoundSummary) string {
	src := sum.Source
	var said string
	switch {
	case src.Formula != "":
		said = src.Key + " = " + src.Formula
	case src.Fn == "count" && sum.Of == nil:
		said = "count"
	case src.Fn == "count":
		said = "count of " + words(sum.Of)
	default:
		said = fnWords[src.Fn] + words(sum.Of)
	}
	if len(s.b.Parts) > 1 && sum.Part >= 0 {
		said += " in " + s.b.Parts[sum.Part].Part.Key
	}
	if sum.Where != nil && !empty(sum.Where) {
		said += " where (" + s.cond(sum.Where, true) + ")"
	}
	if w := showWords[src.Show]; w != "" {
		said += " " + w
	}
	if src.Formula == "" && s.named(src.Key) {
		said += " (" + src.Key + ")"
	}
	if src.Label != "" {
		said += " as " + quoted(src.Label)
	}
	return said
}
