package httpapi_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// aimed asks for what was won, for whose and in which period, and gives the target, what it is for, and the notes.
func aimed(t *testing.T, c *client, whose, within string) (target, of string, notes []any) {
	t.Helper()
	status, a := c.call("POST", "/api/answer", fmt.Sprintf(`{"brief":{"version":1,"start":"deals","whose":%s,"period":{"field":"closed","within":%s},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},
	  "summaries":[{"key":"v","fn":"sum","of":"value"}],"targetOf":"won_value","chart":{"kind":"progress"}}}`, whose, within))
	require.Equal(t, http.StatusOK, status, a)
	drawing := a["drawing"].(map[string]any)
	notes, _ = drawing["notes"].([]any)
	if p, ok := drawing["progress"].(map[string]any); ok {
		return p["target"].(string), p["of"].(string), notes
	}
	return "", "", notes
}

func setTargets(t *testing.T, c *client, body string) map[string]any {
	t.Helper()
	_, grid := c.call("GET", "/api/targets/won_value/grid", "")
	status, out := c.call("PUT", "/api/targets/won_value/amounts", fmt.Sprintf(`{"version":%v,%s`, grid["version"], strings.TrimPrefix(body, "{")))
	require.Equal(t, http.StatusOK, status, out)
	return out
}

func gridRows(t *testing.T, c *client) map[string]map[string]any {
	t.Helper()
	status, grid := c.call("GET", "/api/targets/won_value/grid?year=2026", "")
	require.Equal(t, http.StatusOK, status, grid)
	rows := map[string]map[string]any{}
	for _, r := range grid["rows"].([]any) {
		rows[r.(map[string]any)["name"].(string)] = r.(map[string]any)
	}
	return rows
}

// The target follows the period and the person that a report is read for.
func TestTargetFollowsPeriodAndWhose(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	for _, q := range []struct{ whose, within, target, of string }{
		{`"everyone"`, `"this_quarter"`, "€2,850,000.00", "Won value · everyone · 1 Apr – 30 Jun 2026"},
		{`"everyone"`, `"this_month"`, "€950,000.00", "Won value · everyone · 1 May – 31 May 2026"},
		{`"team"`, `"this_month"`, "€330,000.00", "Won value · West shore · 1 May – 31 May 2026"},
		{`{"teams":["1","4"]}`, `"last_quarter"`, "€960,000.00", "Won value · North shore and Key sites · 1 Jan – 31 Mar 2026"},
		{`"team"`, `{"from":"2026-05-01","to":"2026-05-10"}`, "€106,451.61", "Won value · West shore · 1 May – 10 May 2026, by days"},
	} {
		target, of, notes := aimed(t, c, q.whose, q.within)
		require.Equal(t, []string{q.target, q.of}, []string{target, of}, q)
		require.Empty(t, notes)
	}
	// A person without a target of their own has none, and the report says so.
	target, _, notes := aimed(t, c, `"mine"`, `"this_month"`)
	require.Empty(t, target)
	require.Contains(t, notes, "No target for Won value is set for Maite Corrie in 1 May – 31 May 2026.")

	// What is not what the target is for says so.
	_, a := c.call("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","period":{"field":"created","within":"this_month"},"targetOf":"won_value"}}`)
	require.Contains(t, a["drawing"].(map[string]any)["notes"], "The target for Won value is of “Sum of value, by closed”; this report shows “Deals, by created”.")

	_, a = c.call("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","period":{"field":"closed","within":"this_month"},"summaries":[{"key":"v","fn":"sum","of":"value"}],"targetOf":"won_value"}}`)
	require.Contains(t, a["drawing"].(map[string]any)["notes"], "The target for Won value is only of those that its own conditions leave: Deals, where status is won, showing sum of value, amounts in EUR at the rate of closed, else expected close, else today, by closed.")

	// Who sees only the own records is held to the own target; the team's stays with the team.
	admin := signIn(t, server, 2)
	admin.call("PUT", "/api/settings/sees/deals", `{"how":"own"}`)
	setTargets(t, admin, `{"kind":"person","id":"3","year":2026,"from":1,"months":1,"amount":"40k"}`)
	target, of, _ := aimed(t, signIn(t, server, 3), `"everyone"`, `"this_month"`)
	require.Equal(t, []string{"€40,000.00", "Won value · Aldo Marlow · 1 May – 31 May 2026"}, []string{target, of})
	target, _, _ = aimed(t, signIn(t, server, 8), `{"people":["3"]}`, `"this_month"`)
	require.Empty(t, target, "another's target is not given away")
}

// Each group has its own target: a month, a team; running on, they run on.
func TestTargetsByGroup(t *testing.T) {
	c := signIn(t, serve(t), 1)
	aims := func(group, show string) (list []string) {
		status, a := c.call("POST", "/api/answer", fmt.Sprintf(`{"brief":{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},
		  "groups":[%s],"summaries":[{"key":"v","fn":"sum","of":"value"%s}],"targetOf":"won_value","chart":{"kind":"column"}}}`, group, show))
		require.Equal(t, http.StatusOK, status, a)
		for _, s := range a["drawing"].(map[string]any)["series"].([]any) {
			if s.(map[string]any)["form"] == "aim" {
				for _, p := range s.(map[string]any)["points"].([]any) {
					list = append(list, p.(map[string]any)["say"].(string))
				}
			}
		}
		return list
	}
	require.Equal(t, []string{"Apr 2026, the target: €950,000.00", "May 2026, the target: €950,000.00", "Jun 2026, the target: €950,000.00"}, aims(`{"field":"closed","by":"month","every":true}`, ""))
	require.Equal(t, "Jun 2026, the target: €2,850,000.00", aims(`{"field":"closed","by":"month","every":true}`, `,"show":"running_total"`)[2])
	require.Contains(t, aims(`{"field":"owner.team"}`, ""), "West shore, the target: €990,000.00")
	require.Empty(t, aims(`{"field":"owner"}`, ""), "people have no targets of their own here")
	require.Empty(t, aims(`{"field":"stage"}`, ""))
}

// A year's amount is cut into months evenly or as the year before came in, and can be taken back.
func TestTargetsAreCut(t *testing.T) {
	server := serve(t)
	admin := signIn(t, server, 2)
	require.Equal(t, "€3,960,000", gridRows(t, admin)["West shore"]["year"])
	require.Equal(t, "€11,400,000", gridRows(t, admin)["everyone"]["below"], "what the teams come to")

	out := setTargets(t, admin, `{"kind":"team","id":"2","year":2026,"from":0,"months":12,"amount":"€ 4,000,000","cut":"even"}`)
	row := gridRows(t, admin)["West shore"]
	require.Equal(t, "€4,000,000", row["year"])
	require.Equal(t, "€333,333.34", row["months"].([]any)[0])
	require.Equal(t, "€333,333.33", row["months"].([]any)[11])

	// By last year's shape: the quarters stand to each other as the results did.
	won := admin.answered(`{"version":1,"start":"deals","whose":{"teams":["2"]},"period":{"field":"closed","within":{"from":"2025-04-01","to":"2026-03-31"}},"filter":{"field":"status","is":"any_of","values":["won"]},
		"groups":[{"field":"closed","by":"quarter"}],"summaries":[{"key":"v","fn":"sum","of":"value"}]}`)
	var quarters []any
	for _, l := range won["lines"].([]any) {
		quarters = append(quarters, l.(map[string]any)["cells"].([]any)[0].([]any)[0])
	}
	require.Len(t, quarters, 5, "four quarters and all of them")
	setTargets(t, admin, fmt.Sprintf(`{"kind":"team","id":"2","year":2026,"from":0,"months":12,"amount":%q,"cut":"last_year"}`, quarters[4]))
	row = gridRows(t, admin)["West shore"]
	require.Equal(t, quarters[:4], row["quarters"], "just what was won from April 2025 to March 2026")
	require.Equal(t, strings.TrimSuffix(quarters[4].(string), ".00"), row["year"])

	// Taken back.
	setTargets(t, admin, fmt.Sprintf(`{"kind":"team","id":"2","year":2026,"from":0,"months":12,"amounts":%s}`, mustJSON(t, out["before"])))
	require.Equal(t, "€3,960,000", gridRows(t, admin)["West shore"]["year"])

	// One quarter, and nothing again.
	setTargets(t, admin, `{"kind":"","id":"","year":2026,"from":3,"months":3,"amount":"3m"}`)
	require.Equal(t, []any{"", "€3,000,000", "", ""}, gridRows(t, admin)["everyone"]["quarters"])
	setTargets(t, admin, `{"kind":"","id":"","year":2026,"from":3,"months":3,"amount":""}`)
	require.Equal(t, "", gridRows(t, admin)["everyone"]["year"])

	// Nobody's results give no shape.
	out = setTargets(t, admin, `{"kind":"person","id":"2","year":2026,"from":0,"months":12,"amount":"120","cut":"last_year"}`)
	require.Contains(t, out["note"], "cut evenly")

	for _, bad := range []string{`{"kind":"team","id":"99","year":2026,"from":0,"months":1,"amount":"1"}`, `{"kind":"team","id":"2","year":2026,"from":0,"months":1,"amount":"a lot"}`,
		`{"kind":"team","id":"2","year":2026,"from":0,"months":1,"amount":"-5"}`, `{"kind":"team","id":"2","year":2026,"from":11,"months":3,"amount":"5"}`,
		`{"kind":"team","id":"2","year":2026,"from":0,"months":2,"amounts":["5"]}`, `{"kind":"team","id":"2","year":20260,"from":0,"months":1,"amount":"5"}`} {
		status, body := admin.call("PUT", "/api/targets/won_value/amounts", bad)
		require.GreaterOrEqual(t, status, 400, bad)
		require.NotEmpty(t, body["detail"], bad)
	}
}

// What is measured is said in words, named once, and refused where it cannot be measured.
func TestMeasures(t *testing.T) {
	server := serve(t)
	admin := signIn(t, server, 2)
	calls := `{"version":1,"start":"activities","whose":"mine","period":{"field":"happens","within":"last_month"},"filter":{"field":"kind","is":"any_of","values":["Call"]},"groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`
	status, m := admin.call("POST", "/api/targets", `{"name":"Calls","brief":`+calls+`}`)
	require.Equal(t, http.StatusOK, status, m)
	require.Equal(t, "calls", m["key"])
	require.Equal(t, "Activities, where kind is Call, showing count, by date.", m["text"])
	status, progress := admin.call("POST", "/api/answer", `{"brief":`+mustJSON(t, m["brief"])+`}`)
	require.Equal(t, http.StatusOK, status, progress)
	require.Equal(t, "Activities of everyone taking place this quarter (1 Apr – 30 Jun 2026), where kind is Call, showing count, towards the target for “Calls”, as progress.", progress["text"])
	status, again := admin.call("POST", "/api/targets", `{"name":"CALLS","brief":`+calls+`}`)
	require.Equal(t, http.StatusConflict, status, again)
	status, renamed := admin.call("PUT", "/api/targets/calls", `{"name":"Calls made","version":1}`)
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, "calls", renamed["key"], "reports go on to find it")
	require.Equal(t, m["text"], renamed["text"])

	// A sentence names it, and is read back.
	composer := signIn(t, server, 1)
	_, typed := composer.call("POST", "/api/typed", `{"text":"activities this month towards the target for “Calls made”"}`)
	require.Equal(t, "calls", typed["brief"].(map[string]any)["targetOf"], typed)

	for _, bad := range []string{`{"version":1,"start":"activities"}`, `{"version":1,"start":"products","period":{"field":"created","within":"this_year"}}`,
		`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"summaries":[{"key":"d","fn":"max","of":"closed"}]}`} {
		status, _ := admin.call("POST", "/api/targets", `{"name":"Bad","brief":`+bad+`}`)
		require.Equal(t, http.StatusUnprocessableEntity, status, bad)
	}
	status, _ = admin.call("DELETE", "/api/targets/calls", "")
	require.Equal(t, http.StatusNoContent, status)
	_, a := composer.call("POST", "/api/answer", `{"brief":{"version":1,"start":"activities","period":{"field":"happens","within":"this_month"},"targetOf":"calls"}}`)
	require.Contains(t, a["drawing"].(map[string]any)["notes"], "There is no measure “calls” that targets are set for.")
}
