package board_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/core/schema"
)

var company = func() *schema.Schema {
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	if err != nil {
		panic(err)
	}
	return s
}()

func decoded(t testing.TB, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(`{"version":1,` + text + `}`))
	require.NoError(t, err, text)
	return b
}

func filters(t testing.TB, text string) board.Filters {
	t.Helper()
	var f board.Filters
	require.NoError(t, json.Unmarshal([]byte(text), &f))
	return f
}

func written(t testing.TB, b *brief.Brief) string {
	t.Helper()
	text, err := json.Marshal(b)
	require.NoError(t, err)
	return string(text)
}

func TestPathTo(t *testing.T) {
	for _, c := range [][4]string{
		{"customers", "customers", "segment", "segment"},
		{"deals", "customers", "segment", "customer.segment"},
		{"lines", "customers", "segment", "deal.customer.segment"},
		{"people", "customers", "segment", ""},
		{"boats", "customers", "segment", ""},
	} {
		require.Equal(t, c[3], board.PathTo(company, c[0], c[1], c[2]), "%s to %s", c[0], c[1])
	}
	typ, field := board.EndOf(company, "lines", "deal.customer.segment")
	require.Equal(t, "customers.segment", typ.Key+"."+field.Key)
	for _, wrong := range []string{"deal.shoe", "deal.customer.segment.more", "shoe"} {
		_, field := board.EndOf(company, "lines", wrong)
		require.Nil(t, field, wrong)
	}
}

// A dashboard's filters take the place of a report's period and whose, add to its conditions, and what a report cannot
// follow is said; the report itself stays as it was.
func TestApply(t *testing.T) {
	segment := `"fields":[{"type":"customers","field":"segment","values":["Marina"]}]`
	for name, c := range map[string]struct {
		brief, filters, own, want string
		obeys, ignores            []string
	}{
		"all at once": {
			`"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"field":"source","is":"filled"}`,
			`{"period":"last_month","whose":"mine",` + segment + `}`, "",
			`"start":"deals","whose":"mine","period":{"field":"closed","within":"last_month"},"filter":{"all":[{"field":"source","is":"filled"},{"field":"customer.segment","is":"any_of","values":["Marina"]}]}`,
			[]string{"the period by closed", "whose", "segment"}, nil},
		"a panel's own period": {
			`"start":"deals","period":{"field":"closed","within":"this_year"}`, `{"period":"last_month","whose":"mine"}`, "this_week",
			`"start":"deals","whose":"mine","period":{"field":"closed","within":"this_week"}`,
			[]string{"whose"}, []string{"the period, having one of its own"}},
		"an own period of what has none": {`"start":"people"`, `{}`, "this_week", `"start":"people"`, nil, nil},
		"nothing that it could follow": {`"start":"people"`, `{"period":"today","whose":"mine",` + segment + `}`, "", `"start":"people"`,
			nil, []string{"the period, having none of its own", "whose, its records having no owner", "segment, not being linked to it"}},
		"each part on its own": {
			`"parts":[{"key":"a","start":"deals","period":{"field":"closed","within":"today"}},{"key":"b","start":"lines"}]`, `{"period":"this_week","whose":"everyone"}`, "",
			`"parts":[{"key":"a","start":"deals","period":{"field":"closed","within":"this_week"}},{"key":"b","start":"lines"}]`,
			[]string{"the period by closed"}, []string{"the period, having none of its own"}},
	} {
		b := decoded(t, c.brief)
		before := written(t, b)
		var own *brief.Period
		if c.own != "" {
			p, err := brief.DecodePeriod([]byte(`"` + c.own + `"`))
			require.NoError(t, err)
			own = &p
		}
		got, err := filters(t, c.filters).Apply(company, b, own)
		require.NoError(t, err, name)
		require.JSONEq(t, written(t, decoded(t, c.want)), written(t, got.Brief), name)
		require.Equal(t, c.obeys, got.Obeys, name)
		require.Equal(t, c.ignores, got.Ignores, name)
		require.Equal(t, before, written(t, b), name)
	}
	for _, wrong := range []string{`{"whose":"ours"}`, `{"period":"someday"}`, `{"fields":[{"type":"boats","field":"x","values":["1"]}]}`, `{"fields":[{"type":"deals","field":"stage","values":[]}]}`,
		`{"whose":"mine\",\"start\":\"people"}`} {
		var f board.Filters
		if json.Unmarshal([]byte(wrong), &f) != nil {
			continue
		}
		_, err := f.Apply(company, decoded(t, `"start":"deals"`), nil)
		require.Error(t, err, wrong)
	}
}

// Marks narrow by the field of their first group, not by a date or by a field that only their report has.
func TestNarrows(t *testing.T) {
	require.Equal(t, &board.FieldFilter{Type: "customers", Field: "segment"}, board.Narrows(company, decoded(t, `"start":"deals","groups":[{"field":"customer.segment"}]`)))
	for _, none := range []string{`"start":"deals"`, `"start":"deals","groups":[{"field":"closed","by":"month"}]`, `"start":"deals","own":[{"key":"size","formula":"value"}],"groups":[{"field":"own.size"}]`} {
		require.Nil(t, board.Narrows(company, decoded(t, none)), none)
	}
}

const byStage = `"start":"deals","groups":[{"field":"stage"},{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel","values":["v"],"guides":"both","heading":"Stages"}`

// A panel shows its report as it was kept, but for what its options say.
func TestPlace(t *testing.T) {
	for name, c := range map[string]struct{ brief, options, want string }{
		"nothing said":         {byStage, `{"heading":"Mine","link":"/reports/2"}`, byStage},
		"another style":        {byStage, `{"style":"quiet","kind":"bar"}`, `"start":"deals","groups":[{"field":"stage"},{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"bar","values":["v"],"heading":"Stages","style":"quiet"}`},
		"a style of no chart":  {`"start":"deals","groups":[{"field":"stage"}]`, `{"style":"quiet"}`, `"start":"deals","groups":[{"field":"stage"}],"chart":{"kind":"column","style":"quiet"}`},
		"looks of its own":     {byStage, `{"looks":{"guides":"none","values":["n"],"stacked":false,"palette":["#112233","#445566","#778899"]}}`, `"start":"deals","groups":[{"field":"stage"},{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel","values":["n"],"guides":"none","palette":["#112233","#445566","#778899"],"heading":"Stages"}`},
		"looks over a style":   {byStage, `{"style":"quiet","looks":{"legend":"left"}}`, `"start":"deals","groups":[{"field":"stage"},{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel","values":["v"],"heading":"Stages","style":"quiet","legend":"left"}`},
		"its first groups":     {byStage, `{"items":5,"order":"smallest"}`, `"start":"deals","groups":[{"field":"stage","order":{"by":"v"},"top":{"n":5,"by":"v","from":"smallest"}},{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel","values":["v"],"guides":"both","heading":"Stages"}`},
		"by another summary":   {byStage, `{"items":5,"looks":{"values":["n"]}}`, `"start":"deals","groups":[{"field":"stage","top":{"n":5,"by":"n","from":"largest"}},{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel","values":["n"],"guides":"both","heading":"Stages"}`},
		"by label":             {`"start":"deals","groups":[{"field":"stage"}]`, `{"order":"label"}`, `"start":"deals","groups":[{"field":"stage","order":{"by":"label"}}]`},
		"of a count":           {`"start":"deals","groups":[{"field":"owner"}]`, `{"items":3}`, `"start":"deals","groups":[{"field":"owner","top":{"n":3,"by":"count","from":"largest"}}]`},
		"every member":         {`"start":"deals","groups":[{"field":"stage","every":true}]`, `{"items":3}`, `"start":"deals","groups":[{"field":"stage","every":true}]`},
		"a list":               {byStage + `,"columns":[{"field":"name"}],"totalsOnly":true`, `{"list":true,"items":20,"order":"label"}`, `"start":"deals","columns":[{"field":"name"}],"limit":20`},
		"no list of two types": {`"parts":[{"key":"a","start":"deals"},{"key":"b","start":"lines"}]`, `{"list":true}`, `"parts":[{"key":"a","start":"deals"},{"key":"b","start":"lines"}]`},
		"fewer records":        {`"start":"deals","limit":50`, `{"items":10}`, `"start":"deals","limit":10`},
		"no more records":      {`"start":"deals","limit":5`, `{"items":10}`, `"start":"deals","limit":5`},
	} {
		var o board.Options
		require.NoError(t, json.Unmarshal([]byte(c.options), &o), name)
		require.NoError(t, o.Check(company), name)
		b := decoded(t, c.brief)
		before := written(t, b)
		require.JSONEq(t, written(t, decoded(t, c.want)), written(t, o.Place(b)), name)
		require.Equal(t, before, written(t, b), name)
	}
	for _, wrong := range []string{`{"kind":"spiral"}`, `{"items":-1}`, `{"items":401}`, `{"order":"odd"}`, `{"period":"someday"}`, `{"looks":{"legend":"inside"}}`, `{"looks":{"palette":["red"]}}`} {
		var o board.Options
		require.NoError(t, json.Unmarshal([]byte(wrong), &o), wrong)
		require.Error(t, o.Check(company), wrong)
	}
}

func ExampleFilters_Apply() {
	b, _ := brief.Decode([]byte(`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"}}`))
	f := board.Filters{Period: json.RawMessage(`"this_quarter"`), Whose: json.RawMessage(`"team"`)}
	u, err := f.Apply(company, b, nil)
	fmt.Println(u.Brief.Period.Within.Word, u.Obeys, err)
	// Output: this_quarter [the period by closed whose] <nil>
}
