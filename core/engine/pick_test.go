package engine_test

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/result"
)

// The few groups that a top keeps of very many, and Other, are those that sorting all of them gives: by each summary,
// from either end, ties by name and then by number, whatever the number of workers, and with a reader who sees only
// some.
func TestTopOfVeryMany(t *testing.T) {
	customers, deals := strings.Builder{}, strings.Builder{}
	customers.WriteString("id,name,owner")
	deals.WriteString("id,name,customer,owner,stage,value")
	for i := range 8_000 {
		fmt.Fprintf(&customers, "\n%d,Quay %d,%d", i+1, i%3500, i%2+1)
	}
	for i := range 24_000 {
		customer := fmt.Sprint(i*7919%8_000 + 1)
		if i%97 == 0 {
			customer = ""
		}
		value := fmt.Sprint(i * 31 % 4999)
		if i%13 == 0 {
			value = ""
		}
		fmt.Fprintf(&deals, "\n%d,Deal,%s,1,Enquiry,%s", i+1, customer, value)
	}
	data := records{"deals": deals.String(), "customers": customers.String()}
	for _, typ := range []string{"teams", "people"} {
		data[typ] = harbour[typ]
	}
	snap := snapshot(t, data)
	type group struct {
		member result.Member
		vals   []result.Value
	}
	groups := func(text string, opts engine.Options) (list []group, records int64) {
		r, err := engine.Run(context.Background(), snap, bind(t, snap, text), opts)
		require.NoError(t, err, text)
		for _, n := range r.Rows[0].Children {
			list = append(list, group{r.Rows[n].Member, r.Cell(n, 0).Plain})
		}
		return list, r.Records
	}
	sums := []string{"n", "v", "least", "most", "mean"}
	const summaries = `"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"},{"key":"least","fn":"min","of":"value"},{"key":"most","fn":"max","of":"value"},{"key":"mean","fn":"average","of":"value"}]`
	for _, opts := range []engine.Options{{Today: today}, {Today: today, Gentle: true}, {Today: today, Gentle: true, Reader: "1", Sees: map[string]engine.Sees{"customers": engine.SeesOwn}}} {
		all, records := groups(`{"version":1,"start":"deals","groups":[{"field":"customer"}],`+summaries+`}`, opts)
		for by, key := range sums {
			for _, from := range []string{"largest", "smallest"} {
				for n, rest := range map[int]string{1: "other", 6: "drop", 40: "other"} {
					got, left := groups(fmt.Sprintf(`{"version":1,"start":"deals","groups":[{"field":"customer","order":{"by":"label"},"top":{"n":%d,"by":%q,"from":%q,"rest":%q}}],%s}`, n, key, from, rest, summaries), opts)
					require.Equal(t, records, left)
					judged := slices.DeleteFunc(slices.Clone(all), func(g group) bool { return !g.member.Value() })
					slices.SortStableFunc(judged, func(a, b group) int {
						x, y := a.vals[by], b.vals[by]
						switch {
						case x.Set != y.Set:
							return map[bool]int{true: -1, false: 1}[x.Set]
						case x.Set && x.Num.Cmp(y.Num) != 0:
							return x.Num.Cmp(y.Num) * map[string]int{"largest": -1, "smallest": 1}[from]
						}
						return cmp.Or(strings.Compare(a.member.Label, b.member.Label), cmp.Compare(a.member.Key, b.member.Key))
					})
					kept, rests := judged[:n], judged[n:]
					other, total := false, exact.Num{}
					for _, g := range got {
						switch {
						case g.member.Other:
							other, total = true, g.vals[1].Num
						case g.member.Value():
							at := slices.IndexFunc(kept, func(k group) bool { return k.member == g.member })
							require.GreaterOrEqual(t, at, 0, "%s %s %d keeps %s", key, from, n, g.member.Label)
							require.Equal(t, fmt.Sprint(kept[at].vals), fmt.Sprint(g.vals))
						}
					}
					want := exact.Num{}
					for _, g := range rests {
						want = want.Add(g.vals[1].Num)
					}
					require.Equal(t, rest == "other", other)
					if other {
						require.Zero(t, want.Cmp(total), "%s %s %d: what is together", key, from, n)
					}
					require.Len(t, got, n+map[bool]int{true: 1}[other]+len(all)-len(judged))
				}
			}
		}
	}
}
