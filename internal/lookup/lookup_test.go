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
	found, err := lookup.Find(ctx, demotest.View(t, d, 3), "deals", "7")
	require.NoError(t, err)
	require.Equal(t, deal.Name, found[0].Name)
	require.NoError(t, d.Admin.SetSees(ctx, demotest.View(t, d, 2), "customers", engine.SeesOwn, 0))
	require.NoError(t, d.Admin.SetSees(ctx, demotest.View(t, d, 2), "deals", engine.SeesOwn, 0))
	hidden := d.View(people.Person{ID: 999})
	_, err = lookup.Open(t.Context(), hidden, "deals", "7")
	require.True(t, fault.Is(err, fault.NotFound))
	found, err = lookup.Find(ctx, hidden, "", "a")
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
		found, err := lookup.Find(ctx, v, "deals", "Mooring field Sedgebay")
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

func ExampleFind() {
	d, _ := demotest.App(&testing.T{})
	list, err := lookup.Find(context.Background(), d.View(people.Person{ID: 2, Role: people.Administrator}), "people", "osric")
	fmt.Println(list[0].Name, err)
	// Output: Osric Jarrow <nil>
}
