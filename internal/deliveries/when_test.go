package deliveries

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Each schedule has its next occasion: after a moment, in its zone, also where months are short and clocks are set.
func TestNext(t *testing.T) {
	lisbon, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	for name, c := range map[string]struct {
		w           When
		after, want string
	}{
		"later today":             {When{Every: EveryDay, At: "08:00"}, "2026-05-14T06:00:00+01:00", "2026-05-14T08:00:00+01:00"},
		"not twice at its moment": {When{Every: EveryDay, At: "08:00"}, "2026-05-14T08:00:00+01:00", "2026-05-15T08:00:00+01:00"},
		"over the weekend":        {When{Every: EveryWorkday, At: "08:00"}, "2026-05-15T09:00:00+01:00", "2026-05-18T08:00:00+01:00"},
		"on Monday":               {When{Every: EveryWeek, On: 1, At: "07:30"}, "2026-05-14T09:00:00+01:00", "2026-05-18T07:30:00+01:00"},
		"on Sunday":               {When{Every: EveryWeek, On: 7, At: "07:30"}, "2026-05-14T09:00:00+01:00", "2026-05-17T07:30:00+01:00"},
		"the 31st of February":    {When{Every: EveryMonth, On: 31, At: "08:00"}, "2027-02-01T00:00:00+00:00", "2027-02-28T08:00:00+00:00"},
		"first workday":           {When{Every: FirstWorkday, At: "08:00"}, "2026-07-31T09:00:00+01:00", "2026-08-03T08:00:00+01:00"},
		"another zone":            {When{Every: EveryDay, At: "08:00", Zone: "Asia/Tokyo"}, "2026-05-14T00:30:00+01:00", "2026-05-15T08:00:00+09:00"},
		"the hour that is not":    {When{Every: EveryDay, At: "01:30"}, "2026-03-28T23:00:00+00:00", "2026-03-29T02:30:00+01:00"},
		"the hour that is twice":  {When{Every: EveryDay, At: "01:30"}, "2026-10-25T00:40:00+01:00", "2026-10-25T01:30:00+00:00"},
	} {
		after, err := time.Parse(time.RFC3339, c.after)
		require.NoError(t, err)
		require.NoError(t, c.w.check(), name)
		got, err := c.w.Next(after, lisbon)
		require.NoError(t, err)
		want, err := time.Parse(time.RFC3339, c.want)
		require.NoError(t, err)
		require.True(t, want.Equal(got), "%s: %s, not %s", name, got.Format(time.RFC3339), c.want)
	}
}

// What no calendar has is refused, with the member that is wrong.
func TestWrongSchedules(t *testing.T) {
	for _, w := range []When{
		{}, {Every: "hour", At: "08:00"}, {Every: EveryDay}, {Every: EveryDay, At: "25:00"}, {Every: EveryWeek, At: "08:00"},
		{Every: EveryWeek, On: 8, At: "08:00"}, {Every: EveryMonth, On: 32, At: "08:00"}, {Every: EveryDay, At: "08:00", Zone: "Mars/North"},
		{Every: EveryDay, At: "08:00", If: IfComes}, {If: "rains"},
	} {
		require.Error(t, w.check(), "%+v", w)
	}
}

// Schedules are said as people say them.
func TestWords(t *testing.T) {
	for want, w := range map[string]When{
		"every Monday at 08:00":                          {Every: EveryWeek, On: 1, At: "08:00"},
		"every Sunday at 08:00 (Asia/Tokyo)":             {Every: EveryWeek, On: 7, At: "08:00", Zone: "Asia/Tokyo"},
		"on day 15 of each month at 09:00":               {Every: EveryMonth, On: 15, At: "09:00"},
		"on day 31 of each month, or its last, at 09:00": {Every: EveryMonth, On: 31, At: "09:00"},
		"on the first workday of each month at 09:00":    {Every: FirstWorkday, At: "09:00"},
		"when sum of value comes over 500000":            {If: IfOver, Line: "500000"},
		"when a record comes into the result":            {If: IfComes},
	} {
		require.Equal(t, want, w.Words("sum of value"))
	}
}
