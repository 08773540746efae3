package engine_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// meets are the numbers of the deals of the harbour that meet a condition.
func meets(t *testing.T, cond string) string {
	t.Helper()
	return strings.Join(listed(t, "deals", `"filter":`+cond+`,`, "id"), " ")
}

// What each operator lets through. The five deals are worth 100.50, 200, 50, nothing and −10; they are expected on 20
// May, today (14 May), 1 June, 1 August and never (docs/brief.md, "Conditions").
func TestOperators(t *testing.T) {
	for cond, want := range map[string]string{
		`"field":"value","is":"filled"`:                                                                           "1 2 3 5",
		`"field":"value","is":"empty"`:                                                                            "4",
		`"field":"value","is":"over","values":["50"]`:                                                             "1 2",
		`"field":"value","is":"at_least","values":["50"]`:                                                         "1 2 3",
		`"field":"value","is":"under","values":["100.50"]`:                                                        "3 5",
		`"field":"value","is":"at_most","values":["100.50"]`:                                                      "1 3 5",
		`"field":"value","is":"between","values":["50","100.5"]`:                                                  "1 3",
		`"field":"value","is":"any_of","values":["200","-10","7"]`:                                                "2 5",
		`"field":"value","is":"none_of","values":["200","-10"]`:                                                   "1 3 4",
		`"field":"expected_close","is":"any_of","values":["2026-05-14"]`:                                          "2",
		`"field":"expected_close","is":"none_of","values":["2026-05-14"]`:                                         "1 3 4 5",
		`"field":"expected_close","is":"under","values":["2026-05-20"]`:                                           "2",
		`"field":"expected_close","is":"at_most","values":["2026-05-20"]`:                                         "1 2",
		`"field":"expected_close","is":"over","values":["2026-05-20"]`:                                            "3 4",
		`"field":"expected_close","is":"at_least","values":["2026-05-20"]`:                                        "1 3 4",
		`"field":"expected_close","is":"between","values":["2026-05-14","2026-05-20"]`:                            "1 2",
		`"field":"expected_close","is":"within","period":"today"`:                                                 "2",
		`"field":"expected_close","is":"within","period":"this_month"`:                                            "1 2",
		`"field":"expected_close","is":"within","period":{"next":30,"unit":"day","current":false}`:                "1 3",
		`"field":"name","is":"contains","values":["WAY"]`:                                                         "1 4",
		`"field":"name","is":"not_contains","values":["way"]`:                                                     "2 3 5",
		`"field":"name","is":"contains","values":["way","oor"]`:                                                   "1 3 4",
		`"field":"name","is":"starts_with","values":["g","qu"]`:                                                   "1 5",
		`"field":"name","is":"any_of","values":["QUAY","pontoon"]`:                                                "2 5",
		`"field":"stage","is":"none_of","values":["Enquiry"]`:                                                     "2 3 5",
		`"field":"status","is":"any_of","values":["open"]`:                                                        "1 2 4",
		`"field":"customer","is":"any_of","values":["1","3"]`:                                                     "1 2 5",
		`"field":"customer","is":"none_of","values":["1"]`:                                                        "3 4 5",
		`"field":"customer.segment","is":"empty"`:                                                                 "5",
		`"field":"customer.segment","is":"none_of","values":["Marina"]`:                                           "3 4 5",
		`"field":"owner.team","is":"empty"`:                                                                       "2 3",
		`"field":"owner.active","is":"any_of","values":["true"]`:                                                  "1 2 3 4 5",
		`"field":"value","is":"over","other":"customer.size"`:                                                     "1 2 3",
		`"field":"value","is":"at_most","other":"customer.size"`:                                                  "5",
		`"field":"owner","is":"any_of","other":"customer.owner"`:                                                  "1 3 5",
		`"field":"owner","is":"none_of","other":"customer.owner"`:                                                 "2 4",
		`"link":"activities","is":"some"`:                                                                         "1 2",
		`"link":"activities","is":"none"`:                                                                         "3 4 5",
		`"link":"activities","is":"some","at_least":2`:                                                            "1",
		`"link":"activities","is":"some","at_least":2,"where":{"field":"kind","is":"any_of","values":["Letter"]}`: "",
		`"link":"activities","is":"none","where":{"field":"kind","is":"any_of","values":["Letter"]}`:              "2 3 4 5",
		`"link":"customer.activities","is":"some","at_least":4`:                                                   "1 2",
		`"all":[]`: "1 2 3 4 5",
		`"any":[]`: "1 2 3 4 5",
		`"not":{"field":"value","is":"over","values":["0"]}`:         "4 5",
		`"not":{"not":{"field":"value","is":"over","values":["0"]}}`: "1 2 3",
		`"any":[{"field":"value","is":"over","values":["150"]},{"all":[{"field":"value","is":"empty"},{"field":"stage","is":"any_of","values":["Enquiry"]}]}]`: "2 4",
	} {
		require.Equal(t, want, meets(t, "{"+cond+"}"), cond)
	}
}

// Many values are the same as a few: the way they are looked up changes, the outcome does not.
func TestManyValues(t *testing.T) {
	values := func(from, to int) string {
		var list []string
		for i := from; i <= to; i++ {
			list = append(list, fmt.Sprintf("%q", fmt.Sprint(i)))
		}
		return strings.Join(list, ",")
	}
	for field, want := range map[string][2]string{
		"customer": {"3 4 5", "1 2"}, // 2 and 3, of three
		"value":    {"2 3", "1 4 5"}, // 50 and 200
	} {
		few, many := `"2","3"`, values(2, 40)
		if field == "value" {
			few, many = `"50","200"`, values(11, 250)
		}
		for _, list := range []string{few, many} {
			require.Equal(t, want[0], meets(t, fmt.Sprintf(`{"field":%q,"is":"any_of","values":[%s]}`, field, list)), "%s among %d", field, strings.Count(list, ","))
			require.Equal(t, want[1], meets(t, fmt.Sprintf(`{"field":%q,"is":"none_of","values":[%s]}`, field, list)), "%s not among %d", field, strings.Count(list, ","))
		}
	}
}

// Activities happen at a time. A period and another date are compared by the day in the organisation's zone, where the
// call of 13 May at 23:30 was on 14 May; a date that is given as a value is the start of that day there.
func TestTimesAreDaysInTheZone(t *testing.T) {
	on := func(cond string) string {
		return strings.Join(listed(t, "activities", `"filter":{"field":"happens",`+cond+`},`, "id"), " ")
	}
	for cond, want := range map[string]string{
		`"is":"within","period":"today"`:                      "4",
		`"is":"within","period":"yesterday"`:                  "",
		`"is":"under","values":["2026-05-02"]`:                "1",
		`"is":"at_most","values":["2026-05-02"]`:              "1",
		`"is":"over","values":["2026-05-02"]`:                 "2 3 4",
		`"is":"between","values":["2026-05-02","2026-05-03"]`: "2",
		`"is":"any_of","values":["2026-05-14"]`:               "",
		`"is":"over","other":"deal.expected_close"`:           "",
		`"is":"at_least","other":"deal.expected_close"`:       "4",
		`"is":"under","other":"deal.expected_close"`:          "1 2 3",
		`"is":"at_most","values":["2026-05-02T11:00"]`:        "1 2",
		`"is":"any_of","values":["2026-05-13T23:30:00Z"]`:     "4",
	} {
		require.Equal(t, want, on(cond), cond)
	}
	byHour := run(t, snapshot(t, harbour), `{"version":1,"start":"activities","groups":[{"field":"happens","by":"hour"}]}`).Summary().Rows
	require.Equal(t, []string{"1", "3"}, counts(byHour), "half past midnight, and three at eleven")
}
