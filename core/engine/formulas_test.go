package engine_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
)

// listed are the texts that one column has in the deals of the harbour, or in another record type, in the order of
// their numbers.
func listed(t *testing.T, start, members, column string) []string {
	t.Helper()
	snap := snapshot(t, harbour)
	text := fmt.Sprintf(`{"version":1,"start":%q,%s"columns":[{"field":%q}],"order":[{"field":"id"}]}`, start, members, column)
	l, err := engine.List(context.Background(), snap, bind(t, snap, text), engine.Options{Today: today, Reader: "1"})
	require.NoError(t, err, text)
	var out []string
	for _, line := range texts(t, l) {
		out = append(out, line[0])
	}
	return out
}

// What each formula comes to in the five deals, whose values are 100.50, 200, 50, nothing and −10 (docs/brief.md, "Own
// fields").
func TestFormulas(t *testing.T) {
	for formula, want := range map[string]string{
		`value * 2`:                                   "201 400 100 - -20",
		`-value`:                                      "-100.5 -200 -50 - 10",
		`abs(value)`:                                  "100.5 200 50 - 10",
		`value - 100.5`:                               "0 99.5 -50.5 - -110.5",
		`min(value, 60)`:                              "60 60 50 - -10",
		`max(60, value)`:                              "100.5 200 60 - 60",
		`value / 0`:                                   "- - - - -",
		`round(value / 3, 1)`:                         "33.5 66.7 16.7 - -3.3",
		`round(value, -2)`:                            "100 200 100 - 0",
		`value / 3`:                                   "33.5 66.666667 16.666667 - -3.333333",
		`first_filled(value, 7)`:                      "100.5 200 50 7 -10",
		`(value + 0.5) * (2 - 1)`:                     "101 200.5 50.5 - -9.5",
		`1 + 2 * 3 - 8 / 4`:                           "5 5 5 5 5",
		`if(value >= 100, 1, 0)`:                      "1 1 0 0 0",
		`if(value > 100.5, 1, 0)`:                     "0 1 0 0 0",
		`if(value <= 50, 1, 0)`:                       "0 0 1 0 1",
		`if(value < 50, 1, 0)`:                        "0 0 0 0 1",
		`if(value == 200, 1, 0)`:                      "0 1 0 0 0",
		`if(value != 200, 1, 0)`:                      "1 0 1 0 1",
		`if(value > 0, value, 3)`:                     "100.5 200 50 3 3",
		`if(value > 0, 1, 1 / 0)`:                     "1 1 1 - -",
		`if(not value > 60, 1, 0)`:                    "0 0 1 1 1",
		`if(value > 60 and stage == "enquiry", 1, 0)`: "1 0 0 0 0",
		`if("ENQUIRY" == stage, 1, 0)`:                "1 0 0 1 0",
		`if(stage != "Enquiry", 1, 0)`:                "0 1 1 0 1",
		`if(customer.segment == "marina" or value < 0, 1, 0)`:            "1 1 0 0 1",
		`if(customer.segment != "Marina", 1, 0)`:                         "0 0 1 1 0",
		`if("a" == "A", 1, 0)`:                                           "1 1 1 1 1",
		`if("a" != "b" and value > 150, 1, 0)`:                           "0 1 0 0 0",
		`if(owner.active, 1, 0)`:                                         "1 1 1 1 1",
		`if(owner.active == (value > 60), 1, 0)`:                         "1 1 0 0 0",
		`if(not owner.active or value > 60, 1, 0)`:                       "1 1 0 0 0",
		`days(today(), expected_close)`:                                  "6 0 18 79 -",
		`days(expected_close, today())`:                                  "-6 0 -18 -79 -",
		`if(expected_close > today(), 1, 0)`:                             "1 0 1 1 0",
		`if(expected_close == today(), 1, 0)`:                            "0 1 0 0 0",
		`days(today(), first_filled(expected_close, today()))`:           "6 0 18 79 0",
		`days(today(), if(value > 60, expected_close, today()))`:         "6 0 0 0 0",
		`customer.size + value`:                                          "200.5 300 90 - -3",
		`if(if(value > 60, 1, 0) == 1, 2, if(value > 0, 3, 4))`:          "2 2 3 4 4",
		`if(value > 60 or value > 40 and customer.size > 1000, 1, 0)`:    "1 1 0 0 0",
		`if((value > 60 or value > 40) and customer.size > 1000, 1, 0)`:  "0 0 0 0 0",
		`round(-0.5, 0) + round(0.5, 0) * 10 + round(2.5, 0) * 100`:      "309 309 309 309 309",
		`min(max(value, 0), 150) / max(1, abs(min(value, 0)))`:           "100.5 150 50 - 0",
		`first_filled(value, first_filled(customer.size, 1)) - 40 - -40`: "100.5 200 50 40 -10",
	} {
		got := listed(t, "deals", fmt.Sprintf(`"own":[{"key":"a","formula":%q}],`, formula), "own.a")
		for i, v := range got {
			if v == "" {
				got[i] = "-"
			}
		}
		require.Equal(t, want, strings.Join(got, " "), formula)
	}
}

// An own field can use another, before or after it.
func TestOwnFieldsOfOwnFields(t *testing.T) {
	got := listed(t, "deals", `"own":[{"key":"b","formula":"own.a * 10"},{"key":"a","formula":"value + 1"}],`, "own.b")
	require.Equal(t, []string{"1015", "2010", "510", "", "-90"}, got)
}

// What the linked records of a deal or a customer come to: the first deal has two calls of 10 and 20 minutes and a
// letter of 30, the second a call of 5, the others nothing.
func TestLinkedSummaries(t *testing.T) {
	calls := `,"where":{"field":"kind","is":"any_of","values":["Call"]}`
	for linked, want := range map[string]string{
		`"fn":"count"`:                                "3 1 0 0 0",
		`"fn":"count"` + calls:                        "2 1 0 0 0",
		`"fn":"filled","of":"minutes"`:                "3 1 0 0 0",
		`"fn":"distinct","of":"kind"`:                 "2 1 0 0 0",
		`"fn":"distinct","of":"owner"`:                "2 1 0 0 0",
		`"fn":"distinct","of":"minutes"`:              "3 1 0 0 0",
		`"fn":"sum","of":"minutes"`:                   "60 5 - - -",
		`"fn":"sum","of":"minutes"` + calls:           "30 5 - - -",
		`"fn":"average","of":"minutes"`:               "20 5 - - -",
		`"fn":"median","of":"minutes"`:                "20 5 - - -",
		`"fn":"median","of":"minutes"` + calls:        "15 5 - - -",
		`"fn":"min","of":"minutes"`:                   "10 5 - - -",
		`"fn":"max","of":"minutes"`:                   "30 5 - - -",
		`"fn":"newest","of":"kind","by":"happens"`:    "Letter Call - - -",
		`"fn":"oldest","of":"minutes","by":"happens"`: "10 5 - - -",
	} {
		got := listed(t, "deals", `"own":[{"key":"a","linked":{"link":"activities",`+linked+`}}],`, "own.a")
		for i, v := range got {
			if v == "" {
				got[i] = "-"
			}
		}
		require.Equal(t, want, strings.Join(got, " "), linked)
	}
	require.Equal(t, []string{"300.50", "50.00", "-10.00"}, listed(t, "customers", `"own":[{"key":"a","linked":{"link":"deals","fn":"sum","of":"value"}}],`, "own.a"))
	require.Equal(t, []string{"1", "1", "1"}, listed(t, "customers", `"own":[{"key":"a","formula":"if(own.n > 0, 1, 0)"},{"key":"n","linked":{"link":"deals","fn":"count"}}],`, "own.a"))
}

// Bands cut at their edges, an edge being the first of the band above it; merged values keep what is in no set, or give
// it one name.
func TestBandsAndMergedValues(t *testing.T) {
	groups := func(start, own string) [][]string {
		return run(t, snapshot(t, harbour), `{"version":1,"start":"`+start+`","own":[{"key":"a",`+own+`}],"groups":[{"field":"own.a"}]}`).Summary().Rows
	}
	require.Equal(t, []string{"1", "2", "1", "1"}, counts(groups("deals", `"bands":{"of":"value","edges":["50","200"]}`)), "under 50; 50 and 100.50; 200; none")
	merged := groups("deals", `"merge":{"of":"stage","sets":[{"label":"Early","values":["enquiry","Site survey"]}]}`)
	require.Contains(t, merged, []string{"Early", "2"})
	require.Contains(t, merged, []string{"Ordered", "1"})
	rest := groups("deals", `"merge":{"of":"stage","sets":[{"label":"Early","values":["Enquiry"]}],"rest":"Later"}`)
	require.ElementsMatch(t, [][]string{{"Early", "2"}, {"Later", "3"}}, rest)
	same := groups("deals", `"merge":{"of":"stage","sets":[{"label":"Early","values":["Enquiry"]}],"rest":"Early"}`)
	require.Equal(t, [][]string{{"Early", "5"}}, same)
}

func counts(rows [][]string) []string {
	var out []string
	for _, r := range rows {
		out = append(out, r[len(r)-1])
	}
	return out
}
