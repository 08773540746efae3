package brief_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
)

func testSchema(t *testing.T) *schema.Schema {
	t.Helper()
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", FiscalMonth: 4, Currency: "EUR",
		Stages:  []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}},
		Choices: map[string][]string{"customers.segment": {"Marina", "Harbour"}},
		Types: map[string]schema.Addition{"berths": {Label: "Berths", One: "berth", Fields: map[string]schema.AdditionField{
			"customer": {Kind: schema.Link, To: "customers"}, "length": {Kind: schema.Number}}}}})
	require.NoError(t, err)
	return s
}

func problems(t *testing.T, text string) brief.Problems {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	if err == nil {
		_, err = brief.Bind(b, testSchema(t))
	}
	if err == nil {
		return nil
	}
	var p brief.Problems
	require.ErrorAs(t, err, &p)
	return p
}

// What is wrong is named by its pointer, with what would be right.
func TestRefusals(t *testing.T) {
	for _, c := range []struct{ brief, pointer, says string }{
		{`{`, "", "not JSON"},
		{`{"version":1,"start":"deals"} x`, "", "more after the end"},
		{`{"version":2,"start":"deals"}`, "/version", "version 1"},
		{`{"version":1}`, "/start", "record type"},
		{`{"version":1,"start":"deal"}`, "/start", `"deals"`},
		{`{"version":1,"start":"deals","start":"people"}`, "/start", "twice"},
		{`{"version":1,"start":7}`, "/start", "text"},
		{`{"version":1,"start":"deals","limit":0}`, "/limit", "one line"},
		{`{"version":1,"start":"deals","whose":"ours"}`, "/whose", "everyone"},
		{`{"version":1,"start":"products","whose":"mine"}`, "/whose", "no owner"},
		{`{"version":1,"start":"deals","period":{"field":"created","within":{"last":3,"unit":"day","to":"2026-01-01"}}}`, "/period/within", "rolling"},
		{`{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"contains","values":["1"]}]}}`, "/filter/all/0/is", "money"},
		{`{"version":1,"start":"deals","filter":{"field":"value","is":"over","values":["1.005"]}}`, "/filter/values/0", "two decimals"},
		{`{"version":1,"start":"deals","filter":{"field":"value","is":"between","values":["1"]}}`, "/filter/values", "2 values"},
		{`{"version":1,"start":"deals","filter":{"field":"name","is":"any_of","values":[""]}}`, "/filter/values/0", "empty"},
		{`{"version":1,"start":"deals","filter":{"field":"name","is":"any_of","other":"value"}}`, "/filter/other", "cannot be compared"},
		{`{"version":1,"start":"deals","filter":{"link":"activities","is":"none","at_least":2}}`, "/filter/at_least", "some"},
		{`{"version":1,"start":"deals","filter":{"link":"activties","is":"none"}}`, "/filter/link", `"activities"`},
		{`{"version":1,"start":"deals","filter":{"all":[{"any":[{"all":[{"any":[{"all":[{"any":[]}]}]}]}]}]}}`, "/filter/all/0/any/0/all/0/any/0/all/0", "five deep"},
		{`{"version":1,"start":"deals","bring":{"link":"lines","bring":{"link":"product"}}}`, "/bring/bring/link", "link to many"},
		{`{"version":1,"start":"deals","groups":[{"field":"created"}]}`, "/groups/0", "unit"},
		{`{"version":1,"start":"deals","groups":[{"field":"expected_close","by":"hour"}]}`, "/groups/0/by", "hours"},
		{`{"version":1,"start":"deals","groups":[{"field":"name","every":true}]}`, "/groups/0/every", "no list"},
		{`{"version":1,"start":"deals","groups":[{"field":"stage","every":true,"top":{"n":3,"by":"count"}}]}`, "/groups/0/every", "contradict"},
		{`{"version":1,"start":"deals","groups":[{"field":"stage","top":{"n":3,"by":"total"}}]}`, "/groups/0/top/by", "summary"},
		{`{"version":1,"start":"deals","groups":[{"field":"stage"},{"field":"kind"},{"field":"source"},{"field":"owner"},{"field":"contact"}]}`, "/groups", "four"},
		{`{"version":1,"start":"deals","groups":[{"field":"customer.parent.parent.parent.parent.name"}]}`, "/groups/0/field", "four links"},
		{`{"version":1,"start":"deals","own":[{"key":"a","formula":"own.b + 1"},{"key":"b","formula":"own.a + 1"}]}`, "/own/1/formula", "itself"},
		{`{"version":1,"start":"deals","own":[{"key":"a","formula":"value >"}]}`, "/own/0/formula", "character"},
		{`{"version":1,"start":"deals","own":[{"key":"a","formula":"value > 3"}]}`, "/own/0/formula", "condition"},
		{`{"version":1,"start":"deals","own":[{"key":"a","bands":{"of":"value","edges":["5","5"]}}]}`, "/own/0/bands/edges/1", "rise"},
		{`{"version":1,"start":"deals","own":[{"key":"label","formula":"1"}]}`, "/own/0/key", "label"},
		{`{"version":1,"start":"deals","own":[{"key":"a","linked":{"link":"activities","fn":"newest","of":"outcome"}}]}`, "/own/0/linked/by", "newest"},
		{`{"version":1,"start":"deals","summaries":[{"key":"a","fn":"count","of":"stage"}]}`, "/summaries/0/of", "filled"},
		{`{"version":1,"start":"deals","summaries":[{"key":"a","formula":"b"},{"key":"b","formula":"a"}]}`, "/summaries/1/formula", "itself"},
		{`{"version":1,"start":"deals","summaries":[{"key":"a","fn":"average","of":"value","show":"running_total"}]}`, "/summaries/0/show", "counts and sums"},
		{`{"version":1,"start":"deals","compare":"previous_period","period":{"field":"created","within":"past"}}`, "/compare", "first and a last"},
		{`{"version":1,"start":"deals","chart":{"kind":"funel"}}`, "/chart/kind", `"funnel"`},
		{`{"version":1,"parts":[{"key":"a","start":"deals"}]}`, "/parts", "two to four"},
		{`{"version":1,"start":"deals","parts":[{"key":"a","start":"deals"},{"key":"b","start":"people","summaries":[{"key":"n","fn":"count"}]}]}`, "/start", "beside parts"},
		{`{"version":1,"parts":[{"key":"a","start":"deals"},{"key":"b","start":"people"}]}`, "/parts/1/summaries/0/key", "twice"},
		{`{"version":1,"parts":[{"key":"a","start":"deals"},{"key":"b","start":"activities","summaries":[{"key":"n","fn":"count"}]}],"groups":[{"paths":{"a":"owner","b":"kind"}}]}`, "/groups/0/paths/b", "one kind"},
		{`{"version":1,"start":"deals","chart":{"kind":"line","from":"ten"}}`, "/chart/from", "ends at a number"},
		{`{"version":1,"start":"deals","chart":{"kind":"line","from":"10","to":"5"}}`, "/chart/to", "ends before it begins"},
		{`{"version":1,"start":"deals","chart":{"kind":"line","height":20}}`, "/chart/height", "120 to 1200 pixels"},
		{`{"version":1,"start":"deals","chart":{"kind":"line","on":"glass"}}`, "/chart/on", "paper or ink"},
		{`{"version":1,"start":"deals","targetOf":"won"}`, "/targetOf", "the period needs a first and a last day"},
		{`{"version":1,"start":"deals","period":{"field":"closed","within":"past"},"targetOf":"won"}`, "/targetOf", "the period needs a first and a last day"},
		{`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"target":"5","targetOf":"won"}`, "/targetOf", "not both"},
		{`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"targetOf":"Won deals"}`, "/targetOf", "small letters"},
		{`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"summaries":[{"key":"d","fn":"max","of":"closed"}],"targetOf":"won"}`, "/targetOf", "has no target"},
	} {
		got := problems(t, c.brief)
		require.NotEmpty(t, got, c.brief)
		found := false
		for _, p := range got {
			found = found || (p.Pointer == c.pointer && strings.Contains(p.Message, c.says))
		}
		require.True(t, found, "%s\nwants %s: %s\ngot %v", c.brief, c.pointer, c.says, got)
	}
}

func TestAllProblemsAtOnce(t *testing.T) {
	got := problems(t, `{"version":1,"start":"deals","groups":[{"field":"stagee"}],"columns":[{"field":"nme"}],"summaries":[{"key":"a","fn":"sum","of":"name"}]}`)
	require.Len(t, got, 3)
}

// Record types that administrators add behave as the built-in ones, links back included.
func TestAddedTypes(t *testing.T) {
	require.Empty(t, problems(t, `{"version":1,"start":"berths","groups":[{"field":"customer.segment"}],"summaries":[{"key":"m","fn":"sum","of":"length"}]}`))
	require.Empty(t, problems(t, `{"version":1,"start":"customers","filter":{"link":"berths","is":"some","at_least":2,"where":{"field":"length","is":"over","values":["12"]}}}`))
}

// A brief written out and read again is the same.
func TestRoundTrip(t *testing.T) {
	text := `{"version":1,"start":"deals","whose":{"people":["1"]},"period":{"field":"created","within":{"last":3,"unit":"month","current":false}},
	 "filter":{"all":[{"any":[]},{"not":{"all":[{"field":"value","is":"filled"}]}}]},"groups":[{"field":"stage","every":true}],"blank":false}`
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	out, err := json.Marshal(b)
	require.NoError(t, err)
	require.JSONEq(t, text, string(out))
}

func TestSentences(t *testing.T) {
	today := period.Day(2026, 5, 14)
	names := func(typ, id string) string {
		return map[string]string{"people 3": "Aldo Marlow", "teams 2": "West shore", "targets won": "Won, by closing day"}[typ+" "+id]
	}
	for text, want := range map[string]string{
		`{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"targetOf":"won"}`:   "Deals of everyone closed this quarter (1 Apr – 30 Jun 2026), showing count, towards the target for “Won, by closing day”.",
		`{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"targetOf":"calls"}`: "Deals of everyone closed this quarter (1 Apr – 30 Jun 2026), showing count, towards the target for calls.",
		`{"version":1,"start":"deals"}`: "Deals of everyone, showing count.",
		`{"version":1,"start":"deals","whose":"team","period":{"field":"expected_close","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"value","is":"over","values":["20000"]}]},"groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel"}}`:                                                                                                                                                                                                                                                                                                                                                           "Deals of my team expected to close this quarter (1 Apr – 30 Jun 2026), where status is open and value is over €20,000, by stage, showing count and sum of value, as a funnel.",
		`{"version":1,"start":"activities","whose":{"people":["3"],"teams":["2"]},"period":{"field":"happens","within":{"last":28,"unit":"day"}},"groups":[{"field":"owner.name"}],"across":[{"field":"kind"}],"compare":"previous_period"}`:                                                                                                                                                                                                                                                                                                                                                                                                                                                                                          "Activities of Aldo Marlow or team West shore taking place in the last 28 days, today included (17 Apr – 14 May 2026), by owner's name, across kind, showing count, compared with the period before (20 Mar – 16 Apr 2026).",
		`{"version":1,"start":"customers","filter":{"any":[{"link":"deals","is":"none"},{"link":"parent.activities","is":"some","at_least":3,"where":{"field":"kind","is":"any_of","values":["Call","Visit, short"]}},{"not":{"field":"size","is":"between","values":["10","20"]}}]}}`:                                                                                                                                                                                                                                                                                                                                                                                                                                                "Customers of everyone, with no deals, or with at least 3 of its parent's activities (kind is Call or \"Visit, short\"), or not (size is from 10 to 20), showing count.",
		`{"version":1,"start":"deals","bring":{"link":"lines","keepEmpty":false},"groups":[{"field":"lines.product.family","top":{"n":3,"by":"v","rest":"drop"}}],"blank":false,"summaries":[{"key":"v","fn":"sum","of":"lines.amount","show":"percent_of_total"}],"target":"5000","totalsOnly":true}`:                                                                                                                                                                                                                                                                                                                                                                                                                                "Deals of everyone, each with its lines, leaving out those without, by lines' product's family (the 3 with the largest sum of lines' amount, the rest left out), leaving out (blank), showing sum of lines' amount as a share of the total, towards €5,000, totals only.",
		`{"version":1,"start":"deals","own":[{"key":"age","label":"Age","formula":"days(created, today())"},{"key":"size","bands":{"of":"value","edges":["10000","60000"]}},{"key":"area","merge":{"of":"customer.country","sets":[{"label":"Nordic","values":["NO","SE"]}],"rest":"Elsewhere"}},{"key":"last","linked":{"link":"activities","fn":"newest","of":"outcome","by":"happens","where":{"field":"kind","is":"any_of","values":["Call"]}}}],"columns":[{"field":"own.age"},{"field":"name","label":"Deal"}],"order":[{"field":"value","desc":true},{"field":"id"}],"limit":50}`:                                                                                                                                              "Deals of everyone, with Age as days(created, today()), with Size as value in bands from €10,000 and €60,000, with Area as customer's country merged: Nordic (NO, SE), Elsewhere (all others), with Last as the outcome of the newest of its activities by date (kind is Call), listing Age and name “Deal”, largest value first, then by number, the first 50, showing count.",
		`{"version":1,"start":"deals","filter":{"all":[{"field":"expected_close","is":"within","period":{"next":2,"unit":"month","current":false},"ask":true},{"field":"closed","is":"under","other":"created","fixed":true},{"field":"likelihood","is":"at_least","values":["50"]},{"field":"customer","is":"none_of","values":["9"]},{"field":"closed","is":"between","values":["2026-01-01","2026-01-31"]}]},"groups":[{"field":"stage","every":true,"order":{"by":"r","desc":true}},{"field":"created","by":"fiscal_quarter","label":"Begun"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value","where":{"field":"status","is":"any_of","values":["won"]},"label":"Won"},{"key":"r","formula":"v / n"}]}`: "Deals of everyone, where expected close in the next 2 months, without this one (1 Jun – 31 Jul 2026) (ask the reader) and closed earlier than created (fixed) and likelihood is at least 50 % and customer is not number 9 and closed is from 1 Jan 2026 to 31 Jan 2026, by stage (every stage), largest “r” first, then by fiscal quarter created “Begun”, showing count, sum of value “Won” (status is won) and r = Won / count.",
		`{"version":1,"parts":[{"key":"won","start":"deals","period":{"field":"closed","within":"this_year"},"summaries":[{"key":"v","fn":"sum","of":"value"}]},{"key":"visits","start":"activities","whose":"mine","summaries":[{"key":"n","fn":"count"}]}],"groups":[{"label":"Person","paths":{"won":"owner","visits":"owner"}}],"summaries":[{"key":"per","formula":"v / n"}]}`:                                                                                                                                                                                                                                                                                                                                                   "Deals of everyone closed this year (1 Jan – 31 Dec 2026) (Won), beside activities of mine (Visits), by person: the owner of Won, the owner of Visits; showing sum of value of Won, count of Visits and per = “sum of value of Won” / “count of Visits”.",
	} {
		b, err := brief.Decode([]byte(text))
		require.NoError(t, err)
		bound, err := brief.Bind(b, testSchema(t))
		require.NoError(t, err)
		require.Equal(t, want, brief.Say(bound, today, names).String())
	}
}

func FuzzDecode(f *testing.F) {
	f.Add([]byte(`{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"over","values":["1"]}]}}`))
	f.Add([]byte(`{"version":1,"start":"deals","own":[{"key":"a","formula":"if(value > 3, 1, 0)"}]}`))
	s, err := schema.New(schema.Settings{})
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(_ *testing.T, data []byte) {
		if b, err := brief.Decode(data); err == nil {
			if bound, err := brief.Bind(b, s); err == nil {
				_ = brief.Say(bound, 20000, nil).String()
			}
		}
	})
}

func FuzzFormula(f *testing.F) {
	for _, s := range []string{"1 + 2 * 3", "if(a > 0 and not b == 1, a / b, -a)", `first_filled(a, days(today(), today()))`, "((((1))))", `"x" == "y"`} {
		f.Add(s)
	}
	f.Fuzz(func(_ *testing.T, text string) {
		_, _ = brief.ParseFormula(text, func(string) (brief.Sort, error) { return brief.NumberSort, nil })
	})
}
