package typed

import (
	"slices"
	"sort"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// phrases are the words that a sentence is put together with.
var phrases = []string{
	"of mine",
	"of my team",
	"where",
	"each with its",
	"listing",
	"largest",
	"latest",
	"by",
	"then by",
	"across",
	"showing count",
	"sum of",
	"average",
	"median",
	"how many have a",
	"count",
	"compared with the period before",
	"compared with the year before",
	"as of yesterday",
	"as of the end of last week",
	"as of the end of last month",
	"as of the end of last quarter",
	"what moved since the end of last week",
	"totals only",
	"as a funnel",
	"as columns",
	"as bars",
	"as lines",
	"as a pie",
	"over",
	"under",
	"at least",
	"is empty",
	"is filled",
	"without",
	"in the last 30 days",
	"in the next 3 months",
}

// vocabulary lists what can be said about a record type; nil stands for what comes before one is named.
func vocabulary(s *schema.Schema, t *schema.Type) []string {
	var list []string
	if t == nil {
		list = append(list, "my", "my team")
		for _, t := range s.Types {
			list = append(list, strings.ToLower(t.Label))
			for i := range t.Fields {
				if t.Fields[i].Stages {
					list = append(list, t.Fields[i].Choices...)
				}
			}
		}
		return list
	}
	for i := range t.Fields {
		f := &t.Fields[i]
		list = append(list, strings.ToLower(f.Label))
		list = append(list, f.Choices...)
		if f.Kind != schema.Link || f.Worked != nil || strings.HasSuffix(f.Key, "_by") {
			continue
		}
		to := s.Type(f.To)
		for k := range to.Fields {
			list = append(list, strings.ToLower(f.Label)+"’s "+strings.ToLower(to.Fields[k].Label))
			list = append(list, to.Fields[k].Choices...)
		}
	}
	for _, b := range t.Backs {
		list = append(list, strings.ToLower(b.Label))
	}
	for _, w := range period.Words() {
		list = append(list, strings.ReplaceAll(w, "_", " "))
	}
	return append(list, phrases...)
}

// MaxCompletions is how many ways to go on are offered.
const MaxCompletions = 8

// Complete offers ways to end the word that is being typed; each is the whole text then.
func Complete(text string, s *schema.Schema, known Known) []string {
	cut := strings.LastIndexAny(text, " ,(") + 1
	begun := fold(text[cut:])
	var t *schema.Type
	r := &reader{text: text, w: split(text[:cut]), s: s, known: known}
	for at := range r.w {
		if got, _, _ := r.recordsOf(at); got != nil {
			t = got
			break
		}
	}
	seen := map[string]bool{}
	var list []string
	words := vocabulary(s, t)
	if t == nil {
		for _, w := range known.Words {
			words = append(words, strings.ToLower(w.Name))
		}
	}
	for _, p := range words {
		low := fold(p)
		if seen[low] || !strings.HasPrefix(low, begun) || low == begun {
			continue
		}
		seen[low] = true
		list = append(list, text[:cut]+p)
	}
	if begun == "" && t != nil {
		list = nil
		for _, p := range []string{"by ", "where ", "this quarter", "listing ", "sum of "} {
			list = append(list, strings.TrimRight(text, " ")+" "+p)
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return len(list[i]) < len(list[j]) })
	return list[:min(len(list), MaxCompletions)]
}

// near lists what a text that was not understood may have been meant to be.
func (r *reader) near(text string) []string {
	if len(text) > maxNear {
		return []string{}
	}
	var t *schema.Type
	if r.part != nil {
		t = r.start()
	}
	return slices.DeleteFunc(
		brief.Near(text, append(vocabulary(r.s, t), vocabulary(r.s, nil)...)),
		func(near string) bool { return fold(near) == fold(text) },
	)
}
