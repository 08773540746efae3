package typed_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/typed"
)

// reads checks that sentences about deals are read as briefs with some members, all of each.
func reads(t *testing.T, sentences map[string]string) {
	t.Helper()
	for text, members := range sentences {
		readsAs(t, text, `{"version":1,"start":"deals",`+members+`}`)
	}
}

// Whose records, in the words that people have for it.
func TestTypedWhose(t *testing.T) {
	reads(t, map[string]string{
		"our deals":                                 `"whose":"team"`,
		"my team deals":                             `"whose":"team"`,
		"our team deals":                            `"whose":"team"`,
		"my team open deals":                        `"whose":"team","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]}`,
		"deals of my team":                          `"whose":"team"`,
		"deals of nobody":                           `"whose":{"people":[]}`,
		"deals of team West shore":                  `"whose":{"teams":["2"]}`,
		"deals of number 7":                         `"whose":{"people":["7"]}`,
		`deals of "Aldo Marlow"`:                    `"whose":{"people":["3"]}`,
		"deals of aldo marlow or team West shore":   `"whose":{"people":["3"],"teams":["2"]}`,
		"deals of Maite Corrie where status is won": `"whose":{"people":["1"]},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]}`,
	})
}

// From when, with the days named or worked out.
func TestTypedPeriods(t *testing.T) {
	within := func(p string) string { return `"period":{"field":"created","within":` + p + `}` }
	reads(t, map[string]string{
		"deals with created today":                                         within(`"today"`),
		"deals with created yesterday":                                     within(`"yesterday"`),
		"deals with created tomorrow":                                      within(`"tomorrow"`),
		"deals with created after today":                                   within(`"future"`),
		"deals with created in the future":                                 within(`"future"`),
		"deals with created before today":                                  within(`"past"`),
		"deals with created up to 3 May 2026":                              within(`{"to":"2026-05-03"}`),
		"deals with created from 3.5.2026 to 09.05.2026":                   within(`{"from":"2026-05-03","to":"2026-05-09"}`),
		"deals with created from 2026-05-03 to 2026-05-09":                 within(`{"from":"2026-05-03","to":"2026-05-09"}`),
		"deals with created from 3 May 2026 on":                            within(`{"from":"2026-05-03"}`),
		"deals with created in the next 2 weeks":                           within(`{"next":2,"unit":"week"}`),
		"deals with created in the last 3 months, without the current one": within(`{"last":3,"unit":"month","current":false}`),
		"deals with created this fiscal year":                              within(`"this_fiscal_year"`),
	})
}

// Conditions of each kind, on fields, on other fields and on linked records.
func TestTypedConditions(t *testing.T) {
	one := func(cond string) string { return `"filter":{"all":[` + cond + `]}` }
	reads(t, map[string]string{
		"deals where value is empty":                                               one(`{"field":"value","is":"empty"}`),
		"deals where value is filled":                                              one(`{"field":"value","is":"filled"}`),
		"deals where value is from 100 to 500":                                     one(`{"field":"value","is":"between","values":["100","500"]}`),
		"deals where value is under that of customer’s size":                       one(`{"field":"value","is":"under","other":"customer.size"}`),
		"deals where closed is within this month":                                  one(`{"field":"closed","is":"within","period":"this_month"}`),
		"deals where closed is from 1 Jan 2026 on":                                 one(`{"field":"closed","is":"within","period":{"from":"2026-01-01"}}`),
		"deals where closed is before today":                                       one(`{"field":"closed","is":"within","period":"past"}`),
		"deals where closed is over 1 Jan 2026":                                    one(`{"field":"closed","is":"over","values":["2026-01-01"]}`),
		"deals where customer is number 12":                                        one(`{"field":"customer","is":"any_of","values":["12"]}`),
		`deals where name is "Quay, north"`:                                        one(`{"field":"name","is":"any_of","values":["Quay, north"]}`),
		`deals where name contains quay`:                                           one(`{"field":"name","is":"contains","values":["quay"]}`),
		`deals where name starts with "East "`:                                     one(`{"field":"name","is":"starts_with","values":["East "]}`),
		"deals where stage is Enquiry or Offer sent":                               one(`{"field":"stage","is":"any_of","values":["Enquiry","Offer sent"]}`),
		"deals where stage is not Enquiry":                                         one(`{"field":"stage","is":"none_of","values":["Enquiry"]}`),
		"deals where it has no activities":                                         one(`{"link":"activities","is":"none"}`),
		"deals where it has at least 3 activities":                                 one(`{"link":"activities","is":"some","at_least":3}`),
		"deals where it has activities where (kind is Call and minutes is over 5)": one(`{"link":"activities","is":"some","where":{"all":[{"field":"kind","is":"any_of","values":["Call"]},{"field":"minutes","is":"over","values":["5"]}]}}`),
		"deals where closed is in the last 3 weeks":                                one(`{"field":"closed","is":"within","period":{"last":3,"unit":"week"}}`),
		"deals where closed is within the last 3 weeks":                            one(`{"field":"closed","is":"within","period":{"last":3,"unit":"week"}}`),
		"deals where not (value is empty)":                                         one(`{"not":{"field":"value","is":"empty"}}`),
		"deals where value is empty or value is over 9":                            `"filter":{"any":[{"field":"value","is":"empty"},{"field":"value","is":"over","values":["9"]}]}`,
	})
}

// What is no day is not taken for one.
func TestTypedDatesAreDays(t *testing.T) {
	s := company(t)
	b, un := typed.Read("deals where closed is soon", s, known())
	require.NotEmpty(t, un)
	require.Nil(t, b.Filter)
}

// What is shown: columns, order, groups, summaries, comparison, target and chart.
func TestTypedRest(t *testing.T) {
	const count = `"summaries":[{"key":"count","fn":"count"}]`
	reads(t, map[string]string{
		"deals listing name and value as Worth, sorted by value downwards, the first 20": `"columns":[{"field":"name"},{"field":"value","label":"Worth"}],"order":[{"field":"value","desc":true}],"limit":20`,
		"deals by stage, then by owner, across kind, then across source":                 `"groups":[{"field":"stage"},{"field":"owner"}],"across":[{"field":"kind"},{"field":"source"}],"chart":{"kind":"bar"}`,
		"deals by created by week, every one":                                            `"groups":[{"field":"created","by":"week","every":true}],"chart":{"kind":"column"}`,
		"deals by stage, leaving out (blank)":                                            `"groups":[{"field":"stage"}],"blank":false,"chart":{"kind":"bar"}`,
		"deals by stage as a pie":                                                        `"groups":[{"field":"stage"}],"chart":{"kind":"pie"}`,
		"deals by stage as a pie as shares":                                              `"groups":[{"field":"stage"}],"chart":{"kind":"pie","measure":"share"}`,
		"deals by stage, totals only":                                                    `"groups":[{"field":"stage"}],"totalsOnly":true,"chart":{"kind":"bar"}`,
		"deals, each with its lines, leaving out those without":                          `"bring":{"link":"lines","keepEmpty":false}`,
		"deals with created this year by stage, against the year before":                 `"period":{"field":"created","within":"this_year"},"groups":[{"field":"stage"}],"compare":"year_before","chart":{"kind":"bar"}`,
		"deals with created this year, towards a target of 5,000":                        `"period":{"field":"created","within":"this_year"},"target":"5000"`,
		"deals with closed this year, towards the target for “Won, by closing day”":      `"period":{"field":"closed","within":"this_year"},"targetOf":"won"`,
		"deals, showing count":                                                           count,
		"deals, taking size as value in bands from 100 and 500":                          `"own":[{"key":"size","bands":{"of":"value","edges":["100","500"]}}]`,
		"deals, taking age as days(created, today())":                                    `"own":[{"key":"age","formula":"days(created, today())"}]`,
	})
}

// A day with slashes is read where the organisation writes days so, and asked about elsewhere.
func TestDaysAsTheOrganisationWritesThem(t *testing.T) {
	s := company(t)
	const text = "deals where created is after 03/05/2026"
	b, _ := typed.Read(text, s, known())
	_, err := brief.Bind(b, s)
	require.Error(t, err, "it is shown where it stands")
	slashes := known()
	slashes.Form, err = slashes.Form.WithDays("slashes")
	require.NoError(t, err)
	b, unread := typed.Read(text, s, slashes)
	require.Empty(t, unread)
	want, unread := typed.Read("deals where created is after 3 May 2026", s, known())
	require.Empty(t, unread)
	require.Equal(t, want, b)
	require.Equal(t, "2026-05-04", b.Filter.All[0].Period.From)
	before, unread := typed.Read("deals where created is before 3.5.2026", s, known())
	require.Empty(t, unread)
	require.Equal(t, "2026-05-02", before.Filter.All[0].Period.To)
}
