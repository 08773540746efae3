package brief_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
)

type refusal struct{ members, pointer, says string }

// refused checks that briefs over deals with some members are refused where they are wrong, in words that say what is
// right.
func refused(t *testing.T, list []refusal) {
	t.Helper()
	for _, c := range list {
		text := `{"version":1,"start":"deals",` + c.members + `}`
		if strings.HasPrefix(c.members, `"parts"`) {
			text = `{"version":1,` + c.members + `}`
		}
		var said []string
		for _, p := range problems(t, text) {
			said = append(said, p.Pointer+": "+p.Message)
		}
		found := false
		for _, s := range said {
			found = found || (strings.HasPrefix(s, c.pointer+": ") && strings.Contains(s, c.says))
		}
		require.True(t, found, "%s\nwants %s: … %s …\ngot %s", c.members, c.pointer, c.says, strings.Join(said, "\n    "))
	}
}

func TestRefusedShapes(t *testing.T) {
	refused(t, []refusal{
		{`"groups":{"field":"stage"}`, "/groups", "a list"},
		{`"groups":["stage"]`, "/groups/0", "an object"},
		{`"totalsOnly":"yes"`, "/totalsOnly", "true or false"},
		{`"limit":"ten"`, "/limit", "a whole number"},
		{`"limit":1.5`, "/limit", "a whole number"},
		{`"whose":{}`, "/whose", "name people or teams"},
		{`"colour":"red"`, "/colour", "colour"},
		{`"chart":{"kind":"bar","palete":[]}`, "/chart/palete", `"palette"`},
		{`"period":{"field":"created","within":{"last":1,"next":1,"unit":"day"}}`, "/period/within", "contradict"},
		{`"period":{"field":"created","within":{"from":"2026-01-01","unit":"day"}}`, "/period/within", "go with last or next"},
		{`"period":{"field":"created","within":{"last":0,"unit":"day"}}`, "/period/within", "at least one unit"},
		{`"period":{"field":"created","within":{"last":3,"unit":"fortnight"}}`, "/period/within", "fortnight"},
		{`"period":{"field":"created","within":{"from":"2026-02-30"}}`, "/period/within", "2026-02-30"},
		{`"period":{"field":"created","within":{"from":"2026-03-01","to":"2026-02-01"}}`, "/period/within", "before"},
		{`"period":{"field":"value","within":"this_year"}`, "/period/field", "date"},
		{`"period":{"field":"creatd","within":"this_year"}`, "/period/field", `"created"`},
		{`"period":{"field":"created"}`, "/period/within", "this_quarter"},
	})
	_, err := brief.Decode([]byte(`{"version":1,"start":"` + strings.Repeat("a", brief.MaxBytes) + `"}`))
	require.ErrorContains(t, err, "larger than a megabyte")
	_, err = brief.Decode([]byte(`{"version":1,"filter":` + strings.Repeat(`{"all":[`, 101) + strings.Repeat(`]}`, 101) + `}`))
	require.ErrorContains(t, err, "more than a hundred deep")
}

func TestRefusedMoney(t *testing.T) {
	recorded := `"money":{"as":"recorded"},"groups":[{"field":"currency"%s}],"summaries":[{"key":"v","fn":"sum","of":"value"%s}]%s`
	with := func(group, sum, more string) string { return fmt.Sprintf(recorded, group, sum, more) }
	refused(t, []refusal{
		{`"money":{"as":"euros"}`, "/money/as", `"recorded"`},
		{`"money":{"rates":[{"of":"dels"}]}`, "/money/rates/0/of", "no record type"},
		{`"money":{"rates":[{"of":"customers"}]}`, "/money/rates/0/of", "all in the organisation's currency"},
		{`"money":{"rates":[{"of":"deals"},{"of":"deals"}]}`, "/money/rates/1/of", "stand twice"},
		{`"money":{"rates":[{"of":"deals","at":["value"]}]}`, "/money/rates/0/at/0", "a date or a time"},
		{`"money":{"rates":[{"of":"deals","at":["closd"]}]}`, "/money/rates/0/at/0", "no field"},
		{`"money":{"rates":[{"of":"deals","at":["stage_since"]}]}`, "/money/rates/0/at/0", "that is entered"},
		{`"money":{"rates":[{"of":"deals","at":["name.closed"]}]}`, "/money/rates/0/at/0", "not a link"},
		{`"money":{"rates":[{"of":"deals","at":["closed","created","changed","closed","closed"]}]}`, "/money/rates/0/at", "at most 4"},
		{`"money":{"as":"recorded"},"summaries":[{"key":"v","fn":"sum","of":"value"}]`, "/money/as", "group by currency"},
		{`"money":{"as":"recorded"},"bring":{"link":"lines"},"groups":[{"field":"currency"}],"summaries":[{"key":"v","fn":"max","of":"lines.amount"}]`, "/money/as", "group by lines.deal.currency"},
		{with(`,"top":{"n":2,"by":"v"}`, "", ""), "/groups/0/top", "Other would put"},
		{with("", `,"show":"running_total"`, ""), "/summaries/0/show", "from one currency to the next"},
		{with("", "", `,"target":"100"`), "/target", "in the organisation's currency"},
		{with("", "", `,"chart":{"kind":"pie"}`), "/chart", "make no whole"},
		{with("", "", `,"chart":{"kind":"bar","stacked":true}`), "/chart", "make no whole"},
		{`"money":{"as":"recorded"},"groups":[{"field":"owner","top":{"n":2,"by":"v"}},{"field":"currency"}],"summaries":[{"key":"v","fn":"sum","of":"value"}]`, "/groups/0/top/by", "set against one another"},
	})
}

func TestRefusedConditions(t *testing.T) {
	one := func(cond string) string { return `"filter":{"all":[` + cond + `]}` }
	const at = "/filter/all/0"
	refused(t, []refusal{
		{one(`{"field":"name","link":"activities","is":"filled"}`), at, "just one of"},
		{one(`{}`), at, "just one of"},
		{one(`{"all":[],"is":"filled"}`), at, "stand alone"},
		{one(`{"link":"activities","is":"filled"}`), at + "/is", "some or none"},
		{one(`{"link":"activities","is":"some","at_least":0}`), at + "/at_least", "1 or more"},
		{one(`{"link":"activities","is":"some","values":["x"]}`), at, "only where and at_least"},
		{one(`{"link":"activities","is":"some","where":{"field":"kin","is":"filled"}}`), at + "/where/field", `"kind"`},
		{one(`{"field":"vallue","is":"filled"}`), at + "/field", `"value"`},
		{one(`{"field":"value","is":"filled","at_least":2}`), at, "go with a condition on a link"},
		{one(`{"field":"value","is":"filled","values":["1"]}`), at, "takes no values"},
		{one(`{"field":"created","is":"within"}`), at, "takes a period and nothing else"},
		{one(`{"field":"value","is":"over","period":"today"}`), at, "either values or other"},
		{one(`{"field":"value","is":"over","values":["1"],"other":"likelihood"}`), at, "either values or other"},
		{one(`{"field":"value","is":"any_of","values":[]}`), at + "/values", "at least one value"},
		{one(`{"field":"value","is":"over","values":["much"]}`), at + "/values/0", "not a number"},
		{one(`{"field":"created","is":"over","values":["soon"]}`), at + "/values/0", "soon"},
		{one(`{"field":"value","is":"over","other":"valeu"}`), at + "/other", `"value"`},
		{one(`{"field":"value","is":"between","other":"likelihood"}`), at + "/is", "two fields compare by"},
		{one(`{"field":"name","is":"under","other":"source"}`), at + "/is", ""},
		{one(`{"field":"value","is":"over","other":"likelihood"}`), at + "/other", "cannot be compared"},
		{one(`{"field":"customer","is":"any_of","other":"contact"}`), at + "/other", "cannot be compared"},
		{`"filter":{"not":{"field":"value","is":"more","values":["1"]}}`, "/filter/not/is", "more"},
	})
}

func TestRefusedGroups(t *testing.T) {
	refused(t, []refusal{
		{`"across":[{"field":"stage"},{"field":"kind"},{"field":"source"}]`, "/across", "two fields"},
		{`"groups":[{"field":"stge"}]`, "/groups/0/field", `"stage"`},
		{`"groups":[{"paths":{"a":"stage"}}]`, "/groups/0/paths", "go with parts"},
		{`"groups":[{"field":"created","by":"fortnight"}]`, "/groups/0/by", "unknown unit"},
		{`"groups":[{"field":"stage","by":"month"}]`, "/groups/0/by", "only dates and times"},
		{`"groups":[{"field":"stage","order":{"by":"totl"}}]`, "/groups/0/order/by", "label or a summary"},
		{`"groups":[{"field":"stage","top":{"n":0,"by":"count"}}]`, "/groups/0/top/n", "one group or more"},
		{`"groups":[{"field":"stage","top":{"n":3,"by":"count","from":"best"}}]`, "/groups/0/top/from", "largest or smallest"},
		{`"groups":[{"field":"stage","top":{"n":3,"by":"count","rest":"hide"}}]`, "/groups/0/top/rest", "other or drop"},
		{`"bring":{"link":"lines"},"groups":[{"field":"lines"}]`, "/groups/0/field", "brought link"},
		{`"bring":{"link":"lines"},"columns":[{"field":"lines"}]`, "/columns/0/field", "brought link"},
		{`"bring":{"link":"lins"}`, "/bring/link", `"lines"`},
		{`"order":[{"field":"vale"}]`, "/order/0/field", `"value"`},
	})
}

func TestRefusedOwnFields(t *testing.T) {
	own := func(def string) string { return `"own":[{"key":"a",` + def + `}]` }
	const at = "/own/0"
	refused(t, []refusal{
		{own(`"formula":"1","bands":{"of":"value","edges":["1"]}`), at, "just one of"},
		{own(`"label":"nothing"`), at, "just one of"},
		{own(`"linked":{"link":"activties","fn":"count"}`), at + "/linked/link", `"activities"`},
		{own(`"linked":{"link":"activities","fn":"mean","of":"minutes"}`), at + "/linked/fn", "unknown function"},
		{own(`"linked":{"link":"activities","fn":"count","of":"minutes"}`), at + "/linked", "no of and no by"},
		{own(`"linked":{"link":"activities","fn":"sum","of":"mins"}`), at + "/linked/of", "mins"},
		{own(`"linked":{"link":"activities","fn":"sum","of":"kind"}`), at + "/linked/of", ""},
		{own(`"linked":{"link":"activities","fn":"newest","of":"outcome","by":"kind"}`), at + "/linked/by", "a date or a time"},
		{own(`"bands":{"of":"valu","edges":["1"]}`), at + "/bands/of", `"value"`},
		{own(`"bands":{"of":"stage","edges":["1"]}`), at + "/bands/of", "bands cut a number"},
		{own(`"bands":{"of":"value","edges":[]}`), at + "/bands/edges", "one to a hundred"},
		{own(`"bands":{"of":"value","edges":["low"]}`), at + "/bands/edges/0", "not a number"},
		{own(`"merge":{"of":"sorce","sets":[{"label":"x","values":["y"]}]}`), at + "/merge/of", `"source"`},
		{own(`"merge":{"of":"value","sets":[{"label":"x","values":["y"]}]}`), at + "/merge/of", "a text or a choice"},
		{own(`"merge":{"of":"source","sets":[]}`), at + "/merge/sets", "at least one label"},
		{own(`"merge":{"of":"source","sets":[{"label":"","values":["y"]}]}`), at + "/merge/sets/0/label", "has a label"},
		{own(`"merge":{"of":"source","sets":[{"label":"x","values":["y"]},{"label":"x","values":["z"]}]}`), at + "/merge/sets/1/label", "stands twice"},
		{own(`"merge":{"of":"source","sets":[{"label":"x","values":["y"]},{"label":"z","values":["Y"]}]}`), at + "/merge/sets/1/values/0", "two sets"},
		{`"own":[{"key":"A b","formula":"1"}]`, at + "/key", "small letters"},
		{`"own":[{"key":"a","formula":"1"},{"key":"a","formula":"2"}]`, "/own/1/key", "twice"},
	})
}

func TestRefusedFormulas(t *testing.T) {
	for formula, says := range map[string]string{
		`value + "x"`:                     "works on numbers",
		`value + (value > 3)`:             "works on numbers",
		`if(value > "x", 1, 2)`:           "compares",
		`if(name > "x", 1, 2)`:            "== and != only",
		`if(name == source, 1, 2)`:        "double quotes",
		`if(value, 1, 2)`:                 "is a condition",
		`if(value > 1, 1)`:                "takes 3 values, not 2",
		`sqrt(value)`:                     "no function",
		`roud(value, 2)`:                  `"round"`,
		`round(value, 9)`:                 "from -12 to 6",
		`round(value, value)`:             "from -12 to 6",
		`days(value, today())`:            "two dates or times",
		`min(created, value)`:             "works on numbers",
		`min(name, name)`:                 "works on numbers",
		`value + vlue`:                    `"value"`,
		`customer + 1`:                    "cannot stand in a formula",
		`1` + strings.Repeat(`+1`, 1_000): "longer than",
		`if(value > 1, name, name)`:       "two numbers or two dates",
		`first_filled(closed, value)`:     "two numbers or two dates",
		`1e9999`:                          "",
		`value +`:                         "character",
		``:                                "",
	} {
		got := problems(t, `{"version":1,"start":"deals","own":[{"key":"a","formula":`+quoted(formula)+`}]}`)
		require.NotEmpty(t, got, formula)
		require.Contains(t, got.Error(), says, formula)
	}
}

func quoted(s string) string { return `"` + strings.ReplaceAll(s, `"`, `\"`) + `"` }

func TestRefusedLooks(t *testing.T) {
	chart := func(more string) string { return `"groups":[{"field":"stage"}],"chart":{"kind":"column",` + more + `}` }
	refused(t, []refusal{
		{chart(`"category":4`), "/chart/category", "there is no group 4"},
		{chart(`"values":["vlue"]`), "/chart/values/0", "no summary"},
		{chart(`"measure":"percent"`), "/chart/measure", "value or share"},
		{chart(`"labels":"all"`), "/chart/labels", "none, values, shares or both"},
		{chart(`"legend":"inside"`), "/chart/legend", "top, right, below or left"},
		{chart(`"guides":"dots"`), "/chart/guides", "none, values, both or stripes"},
		{chart(`"totals":"some"`), "/chart/totals", "both or none"},
		{chart(`"palette":["#007C7D"]`), "/chart/palette", "3 to 12 colours"},
		{chart(`"palette":["#007C7D","#CA8100","red"]`), "/chart/palette", "red"},
		{chart(`"style":"` + strings.Repeat("a", 201) + `"`), "/chart/style", "200 characters"},
		{chart(`"heading":"` + strings.Repeat("a", 201) + `"`), "/chart/heading", "200 characters"},
		{`"compare":"last_week"`, "/compare", "previous_period or year_before"},
		{`"target":"lots"`, "/target", "not a number"},
		{`"summaries":[{"key":"d","fn":"max","of":"closed"}],"target":"5"`, "/target", "has no target"},
		{`"columns":[{"field":"value","format":{"decimals":9}}]`, "/columns/0/format/decimals", "0 to 6"},
		{`"columns":[{"field":"value","format":{"style":"roman"}}]`, "/columns/0/format/style", "plain, percent or money"},
		{`"columns":[{"field":"value","format":{"unit":"dozen"}}]`, "/columns/0/format/unit", "plain, K or M"},
		{`"columns":[{"field":"closed","format":{"date":"moon"}}]`, "/columns/0/format/date", "day, weekday, month or number"},
		{`"columns":[{"field":"value","format":{"width":5000}}]`, "/columns/0/format/width", "1 to 1000"},
	})
}

func TestRefusedParts(t *testing.T) {
	two := func(a, more string) string {
		return `"parts":[{"key":"a","start":"deals"` + a + `},{"key":"b","start":"activities","summaries":[{"key":"n","fn":"count"}]}]` + more
	}
	refused(t, []refusal{
		{`"parts":[]`, "/parts", "two to four"},
		{strings.Replace(two("", ""), `"key":"a"`, `"key":"A"`, 1), "/parts/0/key", "small letters"},
		{strings.Replace(two("", ""), `"key":"b"`, `"key":"a"`, 1), "/parts/1/key", ""},
		{two(`,"whose":"ours"`, ""), "/parts/0/whose", "everyone"},
		{two("", `,"groups":[{"field":"owner"}]`), "/groups/0/field", "in each part"},
		{two("", `,"groups":[{"paths":{"a":"owner","c":"owner"}}]`), "/groups/0/paths/c", "no part"},
		{two("", `,"groups":[{"paths":{"a":"owner"}}]`), "/groups/0/paths/b", "by its path"},
		{two("", `,"targetOf":"won"`), "/targetOf", "one record type"},
		{two("", `,"columns":[{"field":"name"}]`), "/columns", ""},
	})
}
