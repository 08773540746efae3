package chart

import (
	"sort"

	"uzzel/core/brief"
	"uzzel/core/result"
)

// Offer is a kind of chart with what it lacks to draw a brief; "" where it can.
type Offer struct {
	Kind  string `json:"kind"`
	Name  string `json:"name" doc:"In words: a heat grid"`
	Lacks string `json:"lacks,omitempty"`
}

// staged says whether the first group of a brief is in a set order that is not one of dates.
func staged(b *brief.Bound) bool {
	return len(b.Groups) > 0 && !b.Groups[0].Values[0].Kind.Dated() && result.Natural(b.Groups[0])
}

// lacks says what a brief lacks that a kind of chart needs, "" for nothing.
func lacks(b *brief.Bound, kind string) string {
	switch kind {
	case "table", "figure":
		return ""
	case "progress":
		if b.Target == nil && b.Brief.TargetOf == "" {
			return "a target"
		}
		return ""
	}
	if len(b.Groups) == 0 {
		return "a group to draw along"
	}
	switch kind {
	case "bridge":
		if b.Rows == 0 {
			return "a group down the rows"
		}
		if s := drawnFirst(b); s == nil || (s.Source.Fn != "sum" && s.Source.Fn != "count" && s.Source.Fn != "filled") {
			return "a count or a sum, whose parts make a whole"
		}
	case "pie", "ring":
		adds := false
		for _, s := range b.Summaries {
			adds = adds || s.Source.Fn == "sum" || s.Source.Fn == "count" || s.Source.Fn == "filled"
		}
		if !adds {
			return "a count or a sum, whose parts make a whole"
		}
	case "heat":
		if len(b.Groups) < 2 {
			return "a second group"
		}
	}
	if n := measures(kind); len(b.Summaries) < n {
		return []string{"", "", "a second summary", "a third summary"}[n]
	}
	return ""
}

// drawnFirst is the summary that a brief's chart draws first, nil where it has none.
func drawnFirst(b *brief.Bound) *brief.BoundSummary {
	if c := b.Brief.Chart; c != nil && len(c.Values) > 0 {
		for _, s := range b.Summaries {
			if s.Source.Key == c.Values[0] {
				return s
			}
		}
	}
	if len(b.Summaries) == 0 {
		return nil
	}
	return b.Summaries[0]
}

// Offers lists the kinds of chart for a brief: those that suit it best first, then those that can draw it, then the
// others with what they lack.
func Offers(b *brief.Bound) []Offer {
	groups := len(b.Groups)
	var first *brief.BoundGroup
	if groups > 0 {
		first = b.Groups[0]
	}
	dated := first != nil && first.Values[0].Kind.Dated()
	staged := staged(b)
	best := map[string]int{}
	rank := func(kinds ...string) {
		for i, k := range kinds {
			best[k] = len(kinds) - i
		}
	}
	switch {
	case (b.Target != nil || b.Brief.TargetOf != "") && groups == 0:
		rank("progress", "figure", "table")
	case groups == 0:
		rank("figure", "table")
	case staged:
		rank("funnel", "bar", "column")
	case dated && first.Group.By.Round() == 0:
		rank("line", "column", "area")
	case dated:
		rank("column", "line")
	case groups > 1:
		rank("bar", "heat", "column")
	default:
		rank("bar", "column", "pie")
	}
	list := make([]Offer, len(brief.ChartKinds))
	for i, k := range brief.ChartKinds {
		list[i] = Offer{k, brief.ChartWords(k), lacks(b, k)}
	}
	sort.SliceStable(list, func(i, j int) bool {
		if fits := list[i].Lacks == ""; fits != (list[j].Lacks == "") {
			return fits
		}
		return best[list[i].Kind] > best[list[j].Kind]
	})
	return list
}

// OneNumber says whether a kind of chart is one number, which needs no groups.
func OneNumber(kind string) bool { return kind == "figure" || kind == "progress" }
