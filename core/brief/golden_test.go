package brief_test

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// golden are the briefs of the cases as a person would say them, on 14 May 2026.
var golden = map[string]string{
	"big-deals-without-a-call":     `Deals of everyone expected to close in the next 60 days, today included (14 May – 12 Jul 2026), where status is open and value is over €20,000 and with no activities (kind is Call and date in the last 21 days, today included (24 Apr – 14 May 2026)), with Last call as the latest date of its activities (kind is Call and date before today (up to 13 May 2026)), listing name “Deal”, customer's name “Customer”, Last call, value and expected close, largest value first, showing count.`,
	"closing-this-quarter-records": `Deals of everyone expected to close this quarter (1 Apr – 30 Jun 2026), where status is open, listing name “Deal”, customer's name “Customer”, value and expected close, largest value first, showing count.`,
	"created-by-month-and-status":  `Deals of everyone, by month created, across status, showing count and sum of value.`,
	"every-month-of-the-year":      `Deals of everyone closed this year (1 Jan – 31 Dec 2026), where status is won, by month closed (every month), showing count and sum of value.`,
	"fiscal-quarters":              `Deals of everyone, where status is won, by fiscal quarter closed, showing count, average days to close and sum of value.`,
	"my-team-any-or-none":          `Deals of my team, where source is Tender, or value is not filled, or with some lines (product's family is Mooring and quantity is at least 30), listing number, source, value and weighted value, by number, showing count.`,
	"segment-averages":             `Deals of everyone, by customer's segment, showing count, average value, median value, smallest value, largest value, how many have a source and number of different sources.`,
	"top-six-customers":            `Deals of everyone, where status is won, by customer's name (the 6 with the largest sum of value, and Other), showing sum of value and average value.`,
	"win-rate-by-owner":            `Deals of everyone, by owner's name, A to Z, showing count “Won” (status is won), count “Lost” (status is lost) and rate = Won / (Won + Lost).`,
	"year-so-far-against-before":   `Deals of everyone created this year to date (1 Jan – 14 May 2026), showing count and sum of value, compared with the year before (1 Jan – 14 May 2025).`,
}

func TestGoldenSentences(t *testing.T) {
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", WeekStart: "monday", FiscalMonth: 4, Currency: "EUR"})
	require.NoError(t, err)
	for name, want := range golden {
		data, err := os.ReadFile("../../testdata/cases/" + name + ".brief.json")
		require.NoError(t, err)
		b, err := brief.Decode(data)
		require.NoError(t, err)
		bound, err := brief.Bind(b, s)
		require.NoError(t, err)
		assert.Equal(t, want, brief.Say(bound, period.Day(2026, 5, 14), nil).String(), name)
	}
}
