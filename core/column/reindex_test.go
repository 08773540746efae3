package column_test

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"uzzel/core/column"
)

// kept is records as a file has them, by type and id.
type kept map[string]map[int]map[string]string

var keptFields = map[string][]string{
	"customers": {"name", "parent"},
	"deals":     {"name", "customer", "stage", "value", "likelihood", "created", "closed"},
}

func (k kept) lines() lines {
	out := lines{}
	for typ, fields := range keptFields {
		rows := []string{"id," + strings.Join(fields, ",")}
		for _, id := range slices.Sorted(maps.Keys(k[typ])) {
			row := []string{strconv.Itoa(id)}
			for _, f := range fields {
				row = append(row, k[typ][id][f])
			}
			rows = append(rows, strings.Join(row, ","))
		}
		out[typ] = strings.Join(rows, "\n")
	}
	return out
}

// Whatever is made, changed, taken away and brought back, in one write or in several: the columns that followed say what
// columns say that are read anew, and an older snapshot says what it said.
func TestColumnsFollowWhatIsGone(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		now, bin, next := kept{"customers": {}, "deals": {}}, kept{"customers": {}, "deals": {}}, map[string]int{"customers": 1, "deals": 1}
		one := func(typ string) map[string]string {
			values := map[string]string{}
			known := []string{""} // there, gone or never there: what is made later has a number of its own
			for id := 1; id < next["customers"]; id++ {
				known = append(known, strconv.Itoa(id))
			}
			for _, f := range keptFields[typ] {
				values[f] = rapid.SampledFrom(map[string][]string{
					"name": {"", "Quay", "Gangway"}, "parent": known, "customer": known,
					"stage": {"", "Enquiry", "Ordered"}, "value": {"", "10", "0.05", "-3000000000"}, "likelihood": {"", "50"},
					"created": {"", "2026-03-01T23:30:00Z"}, "closed": {"", "2026-03-03"},
				}[f]).Draw(rt, f)
			}
			return values
		}
		made := func(typ string) (string, map[string]string) {
			id, values := next[typ], one(typ)
			next[typ] += rapid.IntRange(1, 3).Draw(rt, "apart")
			now[typ][id] = values
			return strconv.Itoa(id), values
		}
		for range rapid.IntRange(0, 6).Draw(rt, "first") {
			made(rapid.SampledFrom([]string{"customers", "deals"}).Draw(rt, "type"))
		}
		fields := []string{
			"customers name", "customers parent", "customers top", "deals name", "deals customer", "deals stage", "deals status",
			"deals value", "deals weighted", "deals cycle_days", "deals created",
		}
		say := func(s *column.Snapshot) (out []string) {
			for _, f := range fields {
				typ, field, _ := strings.Cut(f, " ")
				out = append(out, f+fmt.Sprint(texts(t, s, typ, field)))
			}
			many, err := s.Many("customers", "deals")
			require.NoError(rt, err)
			for row := range int32(len(now["customers"])) {
				out = append(out, fmt.Sprint(many.Of(row)))
			}
			return out
		}
		s := open(t, now.lines())
		for typ := range keptFields { // their links are followed once they are asked for
			_, err := s.Table(typ)
			require.NoError(rt, err)
		}
		for range rapid.IntRange(1, 4).Draw(rt, "writes") {
			if rapid.Bool().Draw(rt, "looked at") {
				require.Equal(rt, say(open(t, now.lines())), say(s))
			}
			before, was := s, kept{}
			for typ := range now {
				was[typ] = maps.Clone(now[typ])
			}
			var edits []column.Edit
			touched := map[string]bool{}
			for range rapid.IntRange(1, 4).Draw(rt, "edits") {
				typ := rapid.SampledFrom([]string{"customers", "deals"}).Draw(rt, "type")
				e := column.Edit{Type: typ}
				some, what := now, rapid.SampledFrom([]string{"new", "change", "gone", "back"}).Draw(rt, "what")
				if what == "back" {
					some = bin
				}
				ids := slices.DeleteFunc(slices.Sorted(maps.Keys(some[typ])), func(id int) bool { return touched[typ+strconv.Itoa(id)] })
				if what != "new" && len(ids) == 0 {
					continue
				}
				if what == "new" {
					e.New = true
					e.ID, e.Values = made(typ)
				} else {
					id := rapid.SampledFrom(ids).Draw(rt, "id")
					e.ID = strconv.Itoa(id)
					switch what {
					case "change":
						e.Values = one(typ)
						now[typ][id] = e.Values
					case "gone":
						e.Gone = true
						bin[typ][id] = now[typ][id]
						delete(now[typ], id)
					case "back":
						e.Back, e.Values = true, bin[typ][id]
						now[typ][id] = e.Values
						delete(bin[typ], id)
					}
				}
				touched[typ+e.ID] = true
				edits = append(edits, e)
			}
			var err error
			s, err = before.Apply(edits)
			require.NoError(rt, err)
			after := now
			now = was
			require.Equal(rt, say(open(t, was.lines())), say(before), "the older one")
			now = after
			require.Equal(rt, say(open(t, now.lines())), say(s))
		}
	})
}
