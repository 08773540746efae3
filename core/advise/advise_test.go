package advise_test

import (
	"context"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/advise"
	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
)

type lines map[string]string

func (l lines) Load(_ context.Context, b *column.Builder) error {
	if l[b.Type.Key] == "" {
		return nil
	}
	rows := strings.Split(l[b.Type.Key], "\n")
	keys := strings.Split(rows[0], ",")
	for _, row := range rows[1:] {
		cells := strings.Split(row, ",")
		b.Row(cells[0])
		for i := range b.Type.Fields {
			for k, key := range keys {
				if b.Type.Fields[i].Key == key {
					if err := b.Set(i, cells[k]); err != nil {
						return err
					}
				}
			}
		}
	}
	return nil
}

var data = lines{
	"deals":      "id,name,stage,value,expected_close\n1,Gangway,Enquiry,100,2026-05-20\n2,Pontoon,Ordered,,2026-05-10\n3,Quay,Enquiry,300,\n4,Jetty,Enquiry,50,2026-05-13",
	"lines":      "id,deal,quantity\n1,1,2\n2,1,3",
	"activities": "id,kind,happens,done\n1,Call,2026-05-12T09:00:00Z,true\n2,Call,2026-05-12T09:00:00Z,false\n3,Call,2026-05-12T09:00:00Z,",
}

func find(t *testing.T, text string) []advise.Warning {
	t.Helper()
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	require.NoError(t, err)
	snap := column.NewSnapshot(s, data)
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	bound, err := brief.Bind(b, s)
	require.NoError(t, err)
	opts := engine.Options{Today: period.Day(2026, 5, 14)}
	r, err := engine.Run(context.Background(), snap, bound, opts)
	require.NoError(t, err)
	sift, err := engine.Sift(context.Background(), snap, bound, opts, 0)
	require.NoError(t, err)
	said := brief.Say(bound, opts.Today, nil)
	list, err := advise.Find(context.Background(), advise.Input{Snap: snap, Bound: bound, Opts: opts, Result: r, Sift: sift, Words: func(at string) string {
		for _, c := range said {
			if c.At == at {
				return c.Text
			}
		}
		return ""
	}})
	require.NoError(t, err)
	return list
}

func TestWarnings(t *testing.T) {
	for _, c := range []struct{ brief, code, says, then string }{
		{`{"version":1,"start":"deals","period":{"field":"expected_close","within":{"last":7,"unit":"day","current":false}},"filter":{"all":[]}}`, "today /period",
			"Today is not in the period: it is 7 May – 13 May 2026.", `{"version":1,"start":"deals","period":{"field":"expected_close","within":{"last":7,"unit":"day"}},"filter":{"all":[]}}`},
		{`{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_month"},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]}}`, "empty /period",
			"In 1 deal expected close is empty, so no period finds it.", `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"expected_close","is":"empty"}]}}`},
		{`{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"over","values":["10"]}]}}`, "empty /filter/all/0",
			"In 1 deal value is empty, so “value is over €10” leaves it out.", `{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"empty"}]}}`},
		{`{"version":1,"start":"activities","filter":{"all":[{"field":"done","is":"any_of","values":["true"]}]}}`, "unmarked /filter/all/0",
			"2 activities are not marked done and so are left out.", `{"version":1,"start":"activities","filter":{"all":[{"field":"done","is":"none_of","values":["true"]}]}}`},
		{`{"version":1,"start":"deals","filter":{"all":[{"field":"name","is":"filled"},{"field":"value","is":"over","values":["5000"]}]}}`, "nothing /filter/all/1",
			"Nothing is left after “value is over €5,000”: it takes out the last 4 deals.", `{"version":1,"start":"deals","filter":{"all":[{"field":"name","is":"filled"}]}}`},
		{`{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"at_most","values":["2026-05-12"]}]}}`, "day /filter/all/0",
			"“date is up to 2026-05-12” ends as 12 May 2026 begins, so that day is not in it.", `{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"under","values":["2026-05-13"]}]}}`},
		{`{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"over","values":["2026-05-11"]}]}}`, "day /filter/all/0",
			"“date is after 2026-05-11” begins as 11 May 2026 begins, so that day is in it.", `{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"at_least","values":["2026-05-12"]}]}}`},
		{`{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"between","values":["2026-05-01","2026-05-12"]}]}}`, "day /filter/all/0",
			"“date is from 2026-05-01 to 2026-05-12” ends as 12 May 2026 begins, so that day is not in it.",
			`{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"between","values":["2026-05-01","2026-05-12T23:59:59"]}]}}`},
		{`{"version":1,"start":"deals","bring":{"link":"lines"},"groups":[{"field":"lines.quantity"}]}`, "overlap", "A record can be in several groups of lines' quantity, so the groups add up to more than their total. The total counts each record once.", ""},
		{`{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"a","fn":"average","of":"value"}]}`, "few a", "Average value is over three records or fewer in 1 group.", ""},
	} {
		found := false
		for _, w := range find(t, c.brief) {
			if w.Code != c.code {
				continue
			}
			found = true
			require.Equal(t, c.says, w.Text)
			if c.then == "" {
				require.Nil(t, w.Brief)
				continue
			}
			text, err := json.Marshal(w.Brief)
			require.NoError(t, err)
			require.JSONEq(t, c.then, string(text))
		}
		require.True(t, found, "no warning %q for %s", c.code, c.brief)
	}
	require.Empty(t, find(t, `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`), "a report that misleads nobody has no warnings")
	for _, fine := range []string{`"is":"under","values":["2026-05-13"]`, `"is":"at_least","values":["2026-05-12"]`, `"is":"at_most","values":["2026-05-12T18:00"]`, `"is":"within","period":"this_month"`} {
		for _, w := range find(t, `{"version":1,"start":"activities","filter":{"all":[{"field":"happens",`+fine+`}]}}`) {
			require.NotContains(t, w.Code, "day ", fine)
		}
	}
}
