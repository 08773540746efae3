package typed_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/core/typed"
)

var today = period.Day(2026, 5, 14)

// people are the records that sentences name here.
var people = map[string]string{"1": "Maite Corrie", "2": "Osric Jarrow", "3": "Aldo Marlow", "4": "Runa Kestle"}

func names(typ, id string) string {
	switch {
	case typ == "people":
		return people[id]
	case typ == "teams" && id == "2":
		return "West shore"
	case typ == brief.Targets && id == "won":
		return "Won, by closing day"
	}
	return ""
}

func known() typed.Known {
	return typed.Known{IDs: func(typ, name string) []string {
		for _, id := range []string{"1", "2", "3", "4", "won"} {
			if n := names(typ, id); n != "" && strings.EqualFold(n, name) {
				return []string{id}
			}
		}
		return nil
	}}
}

func company(t testing.TB) *schema.Schema {
	t.Helper()
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", WeekStart: "monday", FiscalMonth: 4, Currency: "EUR",
		Stages: []schema.Stage{{Name: "Enquiry", Pipeline: "Projects", Status: "open"}, {Name: "Offer sent", Pipeline: "Projects", Status: "open"},
			{Name: "Ordered", Pipeline: "Projects", Status: "won"}, {Name: "Not taken up", Pipeline: "Projects", Status: "lost"}},
		Choices: map[string][]string{"customers.segment": {"Marina", "Harbour", "Sailing club"}, "activities.kind": {"Call", "Site visit"}}})
	require.NoError(t, err)
	return s
}

// readsAs checks that all of a text is read, as a brief.
func readsAs(t *testing.T, text, want string) {
	t.Helper()
	s := company(t)
	b, un := typed.Read(text, s, known())
	require.Empty(t, un, text)
	_, err := brief.Bind(b, s)
	require.NoError(t, err, text)
	got, err := json.Marshal(b)
	require.NoError(t, err)
	wanted, err := brief.Decode([]byte(want))
	require.NoError(t, err, want)
	wantText, err := json.Marshal(wanted)
	require.NoError(t, err)
	assert.JSONEq(t, string(wantText), string(got), text)
}

func TestShortSentences(t *testing.T) {
	for text, want := range map[string]string{
		"open deals over 20k closing this quarter by stage, sum of value": `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"value","is":"over","values":["20000"]}]},"summaries":[{"key":"sum_value","fn":"sum","of":"value"}],"groups":[{"field":"stage"}],"chart":{"kind":"bar"}}`,
		"my deals by month":            `{"version":1,"start":"deals","whose":"mine","groups":[{"field":"expected_close","by":"month"}],"chart":{"kind":"column"}}`,
		"won deals this year by owner": `{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`,
		"activities in the last 28 days by owner across kind as bars":           `{"version":1,"start":"activities","period":{"field":"happens","within":{"last":28,"unit":"day","current":true}},"groups":[{"field":"owner"}],"across":[{"field":"kind"}],"chart":{"kind":"bar"}}`,
		"open deals without a call for three weeks":                             `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"link":"activities","is":"none","where":{"all":[{"field":"kind","is":"any_of","values":["Call"]},{"field":"happens","is":"within","period":{"last":3,"unit":"week","current":true}}]}}]}}`,
		"harbour deals by segment":                                              `{"version":1,"start":"deals","filter":{"all":[{"field":"customer.segment","is":"any_of","values":["Harbour"]}]},"groups":[{"field":"customer.segment"}],"chart":{"kind":"bar"}}`,
		"deals of Aldo Marlow or Runa Kestle where value is at least €1,500.50": `{"version":1,"start":"deals","whose":{"people":["3","4"]},"filter":{"all":[{"field":"value","is":"at_least","values":["1500.50"]}]}}`,
		"customers created last month":                                          `{"version":1,"start":"customers","period":{"field":"created","within":"last_month"}}`,
	} {
		readsAs(t, text, want)
	}
}

func TestWhatIsNotUnderstood(t *testing.T) {
	s := company(t)
	b, un := typed.Read("open deals by stagge, sum of value", s, known())
	require.Len(t, un, 1)
	assert.Equal(t, "stagge", un[0].Text)
	assert.Equal(t, 14, un[0].From)
	assert.Equal(t, 20, un[0].To)
	assert.Contains(t, un[0].Near, "stage")
	require.NotNil(t, b)
	assert.Equal(t, "sum", b.Summaries[0].Fn, "the rest is read all the same")

	b, un = typed.Read("dials by stage", s, known())
	assert.Nil(t, b)
	require.Len(t, un, 1)
	b, un = typed.Read("", s, known())
	assert.Nil(t, b)
	assert.Empty(t, un)
}

// However often the same is asked for, each summary has a key of its own.
func TestManyOfOneSummary(t *testing.T) {
	s := company(t)
	b, un := typed.Read("deals by stage, "+strings.Repeat("sum of value, ", 30)+"count", s, known())
	require.Empty(t, un)
	require.Len(t, b.Summaries, 31)
	_, err := brief.Bind(b, s)
	require.NoError(t, err)
}

func TestComplete(t *testing.T) {
	s := company(t)
	assert.Equal(t, []string{"deals"}, typed.Complete("dea", s, typed.Known{}))
	assert.Contains(t, typed.Complete("open deals by sta", s, typed.Known{}), "open deals by stage")
	assert.Contains(t, typed.Complete("deals where customer’s segment is Ma", s, typed.Known{}), "deals where customer’s segment is Marina")
	assert.NotEmpty(t, typed.Complete("deals ", s, typed.Known{}))
}

// nested says whether a brief has conditions inside conditions, which need not be read back.
func nested(b *brief.Brief) bool {
	text, _ := json.Marshal(b)
	return strings.Count(string(text), `"any"`)+strings.Count(string(text), `"not"`) > 0
}

// examples are the briefs of the starters, of the cases and of docs/brief-examples.md.
func examples(t *testing.T) []json.RawMessage {
	t.Helper()
	var list []json.RawMessage
	data, err := os.ReadFile("../../internal/starters/starters.json")
	require.NoError(t, err)
	var kept []struct{ Brief json.RawMessage }
	require.NoError(t, json.Unmarshal(data, &kept))
	for _, k := range kept {
		list = append(list, k.Brief)
	}
	files, err := filepath.Glob("../../testdata/cases/*.brief.json")
	require.NoError(t, err)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		list = append(list, data)
	}
	data, err = os.ReadFile("../../docs/brief-examples.md")
	require.NoError(t, err)
	for _, block := range strings.Split(string(data), "```json\n")[1:] {
		text, _, _ := strings.Cut(block, "```")
		list = append(list, json.RawMessage(text))
	}
	return list
}

// What brief.Say says is read back as what says the same, over all examples that the project has.
func TestReadsWhatIsSaid(t *testing.T) {
	s := company(t)
	read := 0
	for _, text := range examples(t) {
		b, err := brief.Decode(text)
		if err != nil {
			continue
		}
		bound, err := brief.Bind(b, s)
		if err != nil || nested(b) {
			continue
		}
		said := brief.Say(bound, today, names).String()
		got, un := typed.Read(said, s, known())
		if !assert.Empty(t, un, said) || !assert.NotNil(t, got) {
			continue
		}
		again, err := brief.Bind(got, s)
		if assert.NoError(t, err, said) {
			assert.Equal(t, said, brief.Say(again, today, names).String())
		}
		read++
	}
	assert.Greater(t, read, 80)
}

// What people type without thinking is read as they mean it.
func TestTypedWithoutThinking(t *testing.T) {
	for text, want := range map[string]string{
		"top 5 customers by value":                  `{"version":1,"start":"deals","summaries":[{"key":"sum_value","fn":"sum","of":"value"}],"groups":[{"field":"customer","top":{"n":5,"by":"sum_value"}}],"chart":{"kind":"bar"}}`,
		"top 5 customers by size":                   `{"version":1,"start":"customers","order":[{"field":"size","desc":true}],"limit":5}`,
		"number of deals":                           `{"version":1,"start":"deals"}`,
		"how many deals per owner":                  `{"version":1,"start":"deals","groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`,
		"deals by owner, number of deals":           `{"version":1,"start":"deals","summaries":[{"key":"count","fn":"count"}],"groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`,
		"deals, average value by owner":             `{"version":1,"start":"deals","summaries":[{"key":"average_value","fn":"average","of":"value"}],"groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`,
		"deals by owner, average of value":          `{"version":1,"start":"deals","summaries":[{"key":"average_value","fn":"average","of":"value"}],"groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`,
		"customers without a postcode":              `{"version":1,"start":"customers","filter":{"all":[{"field":"postcode","is":"empty"}]}}`,
		"customers with no email":                   `{"version":1,"start":"customers","filter":{"all":[{"link":"contacts","is":"none","where":{"all":[{"field":"email","is":"filled"}]}}]}}`,
		"open or won deals":                         `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open","won"]}]}}`,
		"deals over 50k":                            `{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"over","values":["50000"]}]}}`,
		"deals under 1.2 million":                   `{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"under","values":["1200000"]}]}}`,
		"deals won last month by team":              `{"version":1,"start":"deals","period":{"field":"closed","within":"last_month"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"groups":[{"field":"owner.team"}],"chart":{"kind":"bar"}}`,
		"deals by customer, the 5 largest by count": `{"version":1,"start":"deals","groups":[{"field":"customer","top":{"n":5,"by":"count"}}],"summaries":[{"key":"count","fn":"count"}],"chart":{"kind":"bar"}}`,
	} {
		readsAs(t, text, want)
	}
}

// Words of an organisation's own stand for some of the records of a type, one or many, with all else that can be said.
func TestWordsOfItsOwn(t *testing.T) {
	prospect := brief.Tree{Field: "kind", Is: "any_of", Values: []string{"Prospect"}}
	k := known()
	k.Words = []typed.Word{{Name: "leads", Start: "customers", Filter: &prospect}, {Name: "big fish", Start: "deals", Filter: &brief.Tree{All: []brief.Tree{{Field: "value", Is: "over", Values: []string{"100000"}}}}}, {Name: "boats", Start: "no type"}}
	for text, want := range map[string]string{
		"leads":                    `{"version":1,"start":"customers","filter":{"all":[{"field":"kind","is":"any_of","values":["Prospect"]}]}}`,
		"my leads by segment":      `{"version":1,"start":"customers","whose":"mine","filter":{"all":[{"field":"kind","is":"any_of","values":["Prospect"]}]},"groups":[{"field":"segment"}],"chart":{"kind":"bar"}}`,
		"how many leads per owner": `{"version":1,"start":"customers","filter":{"all":[{"field":"kind","is":"any_of","values":["Prospect"]}]},"groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`,
		"top 3 leads by size":      `{"version":1,"start":"customers","filter":{"all":[{"field":"kind","is":"any_of","values":["Prospect"]}]},"order":[{"field":"size","desc":true}],"limit":3}`,
		"open big fish by stage":   `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"value","is":"over","values":["100000"]}]},"groups":[{"field":"stage"}],"chart":{"kind":"bar"}}`,
	} {
		b, un := typed.Read(text, company(t), k)
		require.Empty(t, un, text)
		got, err := json.Marshal(b)
		require.NoError(t, err)
		require.JSONEq(t, want, string(got), text)
	}
	b, _ := typed.Read("boats", company(t), k)
	require.Nil(t, b, "a word for a record type that is gone means nothing")
	require.Contains(t, typed.Complete("lea", company(t), k), "leads")
}

// A word that is known elsewhere is not offered in its own place.
func TestNearIsAnotherWord(t *testing.T) {
	_, un := typed.Read("deals stage kind", company(t), known())
	require.NotEmpty(t, un)
	for _, u := range un {
		assert.NotContains(t, u.Near, u.Text)
	}
}
