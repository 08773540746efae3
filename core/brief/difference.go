package brief

import "slices"

// difference.go says in words what changed between two briefs.

var clauseWords = map[string]string{
	"records":   "records",
	"bring":     "brings",
	"whose":     "whose",
	"period":    "period",
	"filter":    "condition",
	"own":       "own field",
	"columns":   "columns",
	"order":     "order",
	"groups":    "groups",
	"across":    "across",
	"summaries": "summary",
	"compare":   "comparison",
	"target":    "target",
	"totals":    "details",
	"chart":     "chart",
	"asOf":      "as of",
	"since":     "since",
	"periods":   "periods",
	"money":     "amounts",
}

// Difference lists what a sentence says that another did not, clause by clause: "period: this month, was this quarter",
// "condition added: status is open".
func Difference(was, now Sentence) []string {
	before, after := clauses(was), clauses(now)
	var out []string
	for _, key := range order(was, now) {
		gone, come := except(before[key], after[key]), except(after[key], before[key])
		name := clauseWords[key]
		for i := range max(len(gone), len(come)) {
			switch {
			case i >= len(gone):
				out = append(out, name+" added: "+come[i])
			case i >= len(come):
				out = append(out, name+" taken out: "+gone[i])
			default:
				out = append(out, name+": "+come[i]+", was "+gone[i])
			}
		}
		if len(gone)+len(come) == 0 && !slices.Equal(before[key], after[key]) {
			out = append(out, name+" in another order")
		}
	}
	return out
}

func clauses(s Sentence) map[string][]string {
	out := map[string][]string{}
	for _, c := range s {
		out[c.Key] = append(out[c.Key], c.Text)
	}
	return out
}

// order is the keys of two sentences in the order in which they are said.
func order(a, b Sentence) []string {
	var keys []string
	for _, c := range append(append(Sentence{}, b...), a...) {
		if !slices.Contains(keys, c.Key) {
			keys = append(keys, c.Key)
		}
	}
	return keys
}

func except(list, other []string) []string {
	var out []string
	for _, x := range list {
		if !slices.Contains(other, x) {
			out = append(out, x)
		}
	}
	return out
}
