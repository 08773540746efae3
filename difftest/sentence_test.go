package difftest

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// Two briefs that differ in result never read the same: random briefs are changed in one place, and where the answer
// changes, the sentence must.
func TestSentencesTellBriefsApart(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	w := newWorld(t, 77)
	defer func() { _ = w.db.Close() }()
	snap := column.NewSnapshot(s, w)
	day, err := period.ParseDay(today)
	require.NoError(t, err)
	say := func(data []byte) (string, bool) {
		b, err := brief.Decode(data)
		if err != nil {
			return "", false
		}
		bound, err := brief.Bind(b, s)
		if err != nil {
			return "", false
		}
		return brief.Say(bound, day, func(typ, id string) string { return snap.NameOf(typ, id, nil) }).String(), true
	}
	changed, apart := 0, 0
	alike := map[string]bool{}
	for i := range 500 {
		r := rand.New(rand.NewPCG(4, uint64(i)))
		m := &maker{r: r, w: w, seen: map[string]int{}}
		b, view := m.brief()
		data, err := json.Marshal(b)
		require.NoError(t, err)
		said, ok := say(data)
		require.True(t, ok, "%s", data)
		reader := pick(m, w.ids["people"])
		was, err := answer(snap, data, view, reader, m.seen)
		if err != nil {
			continue
		}
		for range 12 {
			var copied any
			require.NoError(t, json.Unmarshal(data, &copied))
			where := mutate(r, &copied)
			other, err := json.Marshal(copied)
			require.NoError(t, err)
			saidOther, ok := say(other)
			if !ok {
				continue
			}
			now, err := answer(snap, other, view, reader, m.seen)
			if err != nil {
				continue
			}
			changed++
			if fmt.Sprint(was[1:]) == fmt.Sprint(now[1:]) {
				continue
			}
			apart++
			if said == saidOther && !alike[where] {
				alike[where] = true
				t.Errorf("two briefs read the same, changed at %s:\n%s\n%s\n%s", where, said, data, other)
			}
		}
	}
	require.Greater(t, apart, 500, "too few changes changed an answer")
	t.Logf("%d changed briefs, %d with another answer", changed, apart)
}

// mutate changes one value somewhere in a brief and says where.
func mutate(r *rand.Rand, v *any) string {
	switch x := (*v).(type) {
	case map[string]any:
		keys := slices.Sorted(maps.Keys(x))
		if len(keys) == 0 {
			return ""
		}
		k := keys[r.IntN(len(keys))]
		if r.IntN(6) == 0 {
			delete(x, k)
			return "-" + k
		}
		kid := x[k]
		where := mutate(r, &kid)
		x[k] = kid
		return k + "/" + where
	case []any:
		if len(x) == 0 {
			return ""
		}
		i := r.IntN(len(x))
		switch r.IntN(8) {
		case 0:
			*v = append(append([]any{}, x[:i]...), x[i+1:]...)
			return "-item"
		case 1:
			j := r.IntN(len(x))
			x[i], x[j] = x[j], x[i]
			return "swapped"
		}
		return mutate(r, &x[i])
	case bool:
		*v = !x
	case float64:
		*v = x + 1
	case string:
		*v = another(r, x)
	}
	return ""
}

var alternatives = [][]string{
	{"any_of", "none_of", "contains", "not_contains", "starts_with", "under", "at_most", "over", "at_least", "between", "empty", "filled"},
	{"some", "none"}, {"mine", "team", "everyone"}, {"largest", "smallest"}, {"other", "drop"}, {"all", "any"},
	{"count", "filled", "distinct", "sum", "average", "median", "min", "max"}, {"newest", "oldest"},
	{"value", "percent_of_total", "percent_of_parent", "percent_of_row", "percent_of_column", "running_total", "change"},
	{"previous_period", "year_before"}, {"day", "week", "month", "quarter", "year", "fiscal_quarter", "fiscal_year", "weekday", "month_of_year", "hour"},
	{"owner", "created_by", "changed_by"}, {"kind", "source", "stage", "status", "pipeline"}, {"created", "changed", "expected_close", "closed"},
	{"value", "weighted"}, {"likelihood", "cycle_days"}, words,
}

func another(r *rand.Rand, s string) string {
	for _, list := range alternatives {
		for _, x := range list {
			if x == s {
				return list[r.IntN(len(list))]
			}
		}
	}
	if strings.ContainsAny(s, "0123456789") {
		return strings.Map(func(c rune) rune {
			if c >= '1' && c <= '8' {
				return c + 1
			}
			return c
		}, s)
	}
	return s
}
