package lookup_test

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/lookup"
	"uzzel/internal/people"
	"uzzel/internal/records"
)

func decoded(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	return b
}

// The values of a field: the most frequent first, stages in their order, all that a choice allows, and what is
// searched.
func TestValues(t *testing.T) {
	d, _ := demotest.App(t)
	ctx, who := context.Background(), demotest.View(t, d, 1)
	stages, err := lookup.Values(ctx, who, "deals", "stage", "")
	require.NoError(t, err)
	require.Equal(t, "Enquiry", stages[0].Label)
	owners, err := lookup.Values(ctx, who, "deals", "owner", "")
	require.NoError(t, err)
	for i := 1; i < len(owners); i++ {
		require.GreaterOrEqual(t, owners[i-1].Count, owners[i].Count)
	}
	found, err := lookup.Values(ctx, who, "deals", "owner", "  MAITE ")
	require.NoError(t, err)
	require.Len(t, found, 1)
	require.Equal(t, "Maite Corrie", found[0].Label)
	none, err := lookup.Values(ctx, who, "deals", "owner", "nobody is called this")
	require.NoError(t, err)
	require.Empty(t, none)
	_, err = lookup.Values(ctx, who, "deals", "owner.shoe_size", "")
	var problems brief.Problems
	require.ErrorAs(t, err, &problems)
}

// The values to choose from are counted in the report that they are chosen for.
func TestValuesWithinAReport(t *testing.T) {
	d, _ := demotest.App(t)
	ctx, maite := context.Background(), demotest.View(t, d, 1)
	count := func(filter string) map[string]int64 {
		list, err := lookup.ValuesWithin(ctx, maite, decoded(t, `{"version":1,"start":"deals","filter":{"all":[`+filter+`]}}`), "status", "")
		require.NoError(t, err)
		out := map[string]int64{}
		for _, v := range list {
			out[v.Value] = v.Count
		}
		return out
	}
	all, tenders, none := count(""), count(`{"field":"source","is":"any_of","values":["Tender"]}`), count(`{"field":"status","is":"any_of","values":["open"]}`)
	require.Positive(t, tenders["won"])
	require.Less(t, tenders["won"], all["won"])
	require.Zero(t, none["won"], "the report holds none")
	require.Len(t, none, 3, "none is missing from the choice")
}

// What a person may not see is neither opened nor found, and a link that leads there says so and no more.
func TestWhatIsNotTheirs(t *testing.T) {
	d, _ := demotest.App(t)
	ctx := context.Background()
	deal, err := lookup.Open(t.Context(), demotest.View(t, d, 3), "deals", "7")
	require.NoError(t, err)
	found, err := lookup.Find(ctx, demotest.View(t, d, 3), lookup.Sought{Types: []string{"deals"}, Words: "7"})
	require.NoError(t, err)
	require.Equal(t, deal.Name, found[0].Name)
	require.NoError(t, d.Admin.SetSees(ctx, demotest.View(t, d, 2), "customers", engine.SeesOwn, 0))
	require.NoError(t, d.Admin.SetSees(ctx, demotest.View(t, d, 2), "deals", engine.SeesOwn, 0))
	hidden := d.View(people.Person{ID: 999})
	_, err = lookup.Open(t.Context(), hidden, "deals", "7")
	require.True(t, fault.Is(err, fault.NotFound))
	found, err = lookup.Find(ctx, hidden, lookup.Sought{Words: "a"})
	require.NoError(t, err)
	for _, f := range found {
		require.NotContains(t, []string{"customers", "deals"}, f.Type)
	}
	activity, err := lookup.Open(t.Context(), hidden, "activities", "1")
	require.NoError(t, err)
	for _, f := range activity.Fields {
		if f.Field.Key == "customer" {
			require.True(t, f.Hidden)
			require.Empty(t, f.To+f.Text)
		}
	}
}

// Records of one name are told apart by what a list shows of them; what a link leads to is said to those who see it.
func TestNamesakes(t *testing.T) {
	d, _ := demotest.App(t)
	ctx, maite := context.Background(), demotest.View(t, d, 1)
	notes := func(v *answers.View) []string {
		found, err := lookup.Find(ctx, v, lookup.Sought{Types: []string{"deals"}, Words: "Mooring field Sedgebay"})
		require.NoError(t, err)
		require.GreaterOrEqual(t, len(found), 2)
		var list []string
		for _, f := range found {
			require.Equal(t, "Mooring field Sedgebay", f.Name)
			list = append(list, f.Note)
		}
		return list
	}
	all := notes(maite)
	require.NotEqual(t, all[0], all[1])
	deal, err := lookup.Open(ctx, maite, "deals", "99")
	require.NoError(t, err)
	customer := deal.Fields[slices.IndexFunc(deal.Fields, func(f lookup.RecordField) bool { return f.Field.Key == "customer" })].Text
	require.Contains(t, all[0], customer+" · ")
	require.NoError(t, d.Admin.SetSees(ctx, demotest.View(t, d, 2), "customers", engine.SeesOwn, 0))
	for _, note := range notes(d.View(people.Person{ID: 999})) {
		require.NotContains(t, note, customer)
		require.NotEmpty(t, note)
	}
}

// What fits best comes first, however late its row, and no record type takes the places of another.
func TestFindBestFirst(t *testing.T) {
	d, _ := demotest.App(t)
	ctx, v := context.Background(), demotest.View(t, d, 2)
	find := func(words string, types ...string) []lookup.NamedRecord {
		found, err := lookup.Find(ctx, v, lookup.Sought{Types: types, Words: words})
		require.NoError(t, err)
		return found
	}
	_, err := d.Records.Create(ctx, v, "customers", []records.Values{{"name": "Quay Marina"}, {"name": "Marina Tern"}, {"name": "Marina"}})
	require.NoError(t, err)
	v = demotest.View(t, d, 2)
	found := find("marina", "customers")
	require.Len(t, found, 20)
	require.Equal(t, []string{"Marina", "Marina Tern"}, []string{found[0].Name, found[1].Name}, "made last, and they fit best")
	require.NotEqual(t, "Quay Marina", found[2].Name, "equally good ones stand in their order")
	of := map[string]int{}
	found = find("a", "customers", "contacts", "deals")
	for _, f := range found {
		of[f.Type]++
	}
	require.Len(t, found, 20)
	require.Len(t, of, 3, "none pushes the others out")
	require.Equal(t, "7", find("7", "deals")[0].ID, "a number is meant before the names that have it")
	require.Len(t, find("a", "customers"), 20)
	require.Empty(t, find("a", "nothing"))
	require.Empty(t, find("  ", "customers"))
}

func ExampleFind() {
	d, _ := demotest.App(&testing.T{})
	list, err := lookup.Find(context.Background(), d.View(people.Person{ID: 2, Role: people.Administrator}), lookup.Sought{Types: []string{"people"}, Words: "osric"})
	fmt.Println(list[0].Name, err)
	// Output: Osric Jarrow <nil>
}
