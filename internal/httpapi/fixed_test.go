package httpapi_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// text asks and gives the answer as it came.
func (c *client) text(method, path, body string) (int, http.Header, string) {
	c.t.Helper()
	req, err := http.NewRequestWithContext(context.Background(), method, c.url+path, strings.NewReader(body))
	require.NoError(c.t, err)
	if body != "" {
		req.Header.Set("Content-Type", "application/json")
	}
	res, err := c.Do(req)
	require.NoError(c.t, err)
	defer func() { _ = res.Body.Close() }()
	data, err := io.ReadAll(res.Body)
	require.NoError(c.t, err)
	return res.StatusCode, res.Header, string(data)
}

// secret is what the owner's fixed conditions ask for; no answer to anyone else may have it.
const secret = "Zephyrine"

const fixedOn = `{"field":"name","is":"not_contains","values":["` + secret + `"],"fixed":true}`

// fixedBriefs have a fixed condition in every place that can have one, at several depths.
var fixedBriefs = map[string]string{
	"filter":         `{"version":1,"start":"deals","filter":` + fixedOn + `,"groups":[{"field":"stage"}]}`,
	"among others":   `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]},` + fixedOn + `]},"groups":[{"field":"stage"}]}`,
	"in any":         `{"version":1,"start":"deals","filter":{"all":[{"any":[{"field":"value","is":"over","values":["1"]},` + fixedOn + `]}]},"groups":[{"field":"stage"}]}`,
	"in not":         `{"version":1,"start":"deals","filter":{"all":[{"not":{"any":[{"not":` + fixedOn + `}]}}]}}`,
	"on a link":      `{"version":1,"start":"deals","filter":{"all":[{"link":"lines","is":"some","where":{"all":[{"field":"deal.name","is":"not_contains","values":["` + secret + `"],"fixed":true}]}}]}}`,
	"brought":        `{"version":1,"start":"customers","bring":{"link":"deals","keepEmpty":false,"where":{"all":[` + fixedOn + `]}},"columns":[{"field":"name"},{"field":"deals.name"}]}`,
	"brought within": `{"version":1,"start":"customers","bring":{"link":"deals","bring":{"link":"activities","where":{"field":"subject","is":"not_contains","values":["` + secret + `"],"fixed":true}}}}`,
	"own field":      `{"version":1,"start":"customers","own":[{"key":"n","linked":{"link":"deals","fn":"count","where":{"all":[` + fixedOn + `]}}}],"columns":[{"field":"name"},{"field":"own.n"}],"summaries":[{"key":"s","fn":"sum","of":"own.n"}]}`,
	"summary":        `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count","where":` + fixedOn + `},{"key":"v","fn":"sum","of":"value"}]}`,
	"parts": `{"version":1,"parts":[{"key":"a","start":"deals","filter":{"all":[` + fixedOn + `]}},{"key":"b","start":"activities","summaries":[{"key":"n","fn":"count",
		"where":{"field":"subject","is":"not_contains","values":["` + secret + `"],"fixed":true}}]}],"groups":[{"paths":{"a":"owner","b":"owner"}}]}`,
}

// What an owner fixed leaves in no answer to anyone who may not change the report, through no operation, at no depth;
// and all that is answered holds to it.
func TestFixedConditionsNeverLeave(t *testing.T) {
	server := serve(t)
	owner, admin := signIn(t, server, 1), signIn(t, server, 2)
	ids := furnish(t, owner)
	reports := map[string]string{}
	panels := []string{}
	for name, text := range fixedBriefs {
		status, out := owner.call("POST", "/api/reports", fmt.Sprintf(`{"title":"Fixed: %s","description":"","folder":%s,"brief":%s}`, name, ids["$F"], text))
		require.Equal(t, http.StatusOK, status, "%s: %v", name, out)
		reports[name] = fmt.Sprint(out["id"])
		panels = append(panels, fmt.Sprintf(`{"report":%v,"x":0,"y":%d,"w":6,"h":9}`, out["id"], 9*len(panels)))
		admin.call("PUT", fmt.Sprintf("/api/pages/customers/%v", out["id"]), "")
		// An earlier version has another.
		_, out = owner.call("PUT", fmt.Sprintf("/api/reports/%v", out["id"]), fmt.Sprintf(`{"title":"Fixed: %s","description":"again","folder":%s,"brief":%s,"version":1}`, name, ids["$F"], text))
		require.EqualValues(t, 2, out["version"], out)
	}
	_, board := owner.call("POST", "/api/boards", fmt.Sprintf(`{"title":"All of it","folder":%s,"panels":[%s]}`, ids["$F"], strings.Join(panels, ",")))
	for _, person := range []int{8, 7, 3} {
		c := signIn(t, server, person)
		keeps := func(method, path, body string) (int, string) {
			status, _, text := c.text(method, path, body)
			assert.NotContains(t, text, secret, "%s %s to person %d", method, path, person)
			assert.NotContains(t, text, `"fixed":true`, "%s %s to person %d", method, path, person)
			return status, text
		}
		for _, path := range []string{"/api/reports", "/api/find", fmt.Sprintf("/api/boards/%v/whole", board["id"]), "/api/records/customers/5", "/api/drafts"} {
			status, _ := keeps("GET", path, "")
			require.Equal(t, http.StatusOK, status, path)
		}
		for name, id := range reports {
			page := ""
			if name != "parts" && name != "bring" {
				page = fmt.Sprintf(`,{"report":%s,"type":"customers","id":"5"}`, id)
			}
			status, text := keeps("POST", "/api/panels", fmt.Sprintf(`{"filters":{"whose":"everyone"},"panels":[{"report":%s},{"report":%s,"options":{"list":true}}%s]}`, id, id, page))
			require.Equal(t, http.StatusOK, status, text)
			_, _, owners := owner.text("POST", "/api/panels", fmt.Sprintf(`{"panels":[{"report":%s}]}`, id))
			require.Equal(t, linesOf(t, owners)[0].Answer.Records, linesOf(t, text)[0].Answer.Records, "a panel of %s", name)
			_, _, full := owner.text("GET", "/api/reports/"+id, "")
			require.Contains(t, full, secret, "its owner sees it")
			_, text = keeps("GET", "/api/reports/"+id, "")
			keeps("GET", "/api/reports/"+id+"/versions", "")
			var report struct{ Brief json.RawMessage }
			require.NoError(t, json.Unmarshal([]byte(text), &report))
			brief := string(report.Brief)
			require.Contains(t, brief, `"reading":`+id, "%s: what is asked of it names it", name)

			// Every operation that takes a brief answers as to its owner, and keeps it.
			var mine struct{ Brief json.RawMessage }
			require.NoError(t, json.Unmarshal([]byte(full), &mine))
			for _, op := range []struct{ path, more string }{{"/api/answer", ""}, {"/api/explain", ""}, {"/api/list", ""}, {"/api/grouped", ""}, {"/api/behind/report", `,"marks":[{"rows":[],"across":[]}]`}, {"/api/behind", `,"marks":[{"rows":[],"across":[]}]`},
				{"/api/dropped", `,"step":0`}, {"/api/why", `,"id":"7"`}} {
				if name == "parts" && op.path == "/api/list" {
					continue // has no list of records
				}
				status, theirs := keeps("POST", op.path, fmt.Sprintf(`{"brief":%s%s}`, brief, op.more))
				if (op.path == "/api/dropped" || op.path == "/api/grouped") && status == http.StatusUnprocessableEntity {
					continue // it has no condition of its own, or no groups
				}
				require.Equal(t, http.StatusOK, status, "%s of %s: %s", op.path, name, theirs)
				_, _, owners := owner.text("POST", op.path, fmt.Sprintf(`{"brief":%s%s}`, mine.Brief, op.more))
				require.Equal(t, counted(t, owners), counted(t, theirs), "%s of %s", op.path, name)
			}
			keeps("POST", "/api/values/within", fmt.Sprintf(`{"brief":%s,"path":"stage","search":""}`, brief))
			keeps("POST", "/api/difference", fmt.Sprintf(`{"was":%s,"now":%s}`, brief, brief))
			for _, view := range []string{"records", "summary", "totals", "outline"} {
				for _, format := range []string{"json", "csv"} {
					if name == "parts" && view == "records" {
						continue
					}
					status, text := keeps("POST", "/api/export", fmt.Sprintf(`{"brief":%s,"report":%s,"view":%q,"format":%q}`, brief, id, view, format))
					require.Equal(t, http.StatusOK, status, "%s %s of %s: %s", view, format, name, text)
				}
			}
			if person == 7 { // a composer keeps drafts, and copies of what there is to be seen
				status, text := keeps("PUT", "/api/drafts", fmt.Sprintf(`{"report":%s,"version":2,"brief":%s}`, id, brief))
				require.Equal(t, http.StatusOK, status, text)
				require.Contains(t, text, `"reading":`+id)
				status, text = keeps("POST", "/api/reports", fmt.Sprintf(`{"title":"A copy","description":"","folder":%s,"brief":%s}`, ids["$F"], brief))
				require.Equal(t, http.StatusForbidden, status, text)
				status, _ = keeps("POST", "/api/reports", fmt.Sprintf(`{"title":"A copy","description":"","folder":%s,"from":%s,"brief":{"version":1,"start":"deals"}}`, ids["$F"], id))
				require.Equal(t, http.StatusForbidden, status)
			}
		}
		keeps("GET", "/api/drafts", "")
	}
}

// counted is what an answer counts: its records, its rows, its cells.
func counted(t *testing.T, text string) string {
	t.Helper()
	var out map[string]any
	require.NoError(t, json.Unmarshal([]byte(text), &out), text)
	said := fmt.Sprint(out["records"], out["of"], out["total"], out["in"])
	if lines, ok := out["lines"].([]any); ok {
		for _, l := range lines {
			said += fmt.Sprint(l.(map[string]any)["label"], l.(map[string]any)["cells"])
		}
	}
	return said
}

// A reading of a report is of that report: over other records it is refused, in words that name no condition; what the
// report's owner fixed on a part of it stays on that part.
func TestReadingsStayReadings(t *testing.T) {
	server := serve(t)
	owner, reader := signIn(t, server, 1), signIn(t, server, 8)
	ids := furnish(t, owner)
	id := ids["$K"]
	for body, pointer := range map[string]string{
		`{"version":1,"start":"activities","reading":` + id + `}`: "/start",
		`{"version":1,"parts":[{"key":"a","start":"deals"},{"key":"b","start":"activities","summaries":[{"key":"n","fn":"count"}]}],"reading":` + id + `}`: "/parts",
		`{"version":1,"start":"deals","reading":"x"}`: "/reading",
	} {
		status, _, text := reader.text("POST", "/api/answer", `{"brief":`+body+`}`)
		require.Equal(t, http.StatusUnprocessableEntity, status, text)
		require.Contains(t, text, pointer)
		require.NotContains(t, text, "Tender")
		require.NotContains(t, text, "source")
	}
	status, _, _ := reader.text("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","reading":`+ids["$P"]+`}}`)
	require.Equal(t, http.StatusNotFound, status, "nor of one that is not open")
	_, own := owner.call("POST", "/api/reports", fmt.Sprintf(`{"title":"Own","description":"","folder":%s,"brief":%s}`, ids["$F"], fixedBriefs["own field"]))
	status, _, text := reader.text("POST", "/api/answer", fmt.Sprintf(`{"brief":{"version":1,"start":"customers","own":[{"key":"n","linked":{"link":"activities","fn":"count"}}],"reading":%v}}`, own["id"]))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, text, "/own/0")
	require.NotContains(t, text, secret)
}

// Readers take out what was kept, for other dates and people and narrowed, and nothing else under its name; what is
// kept in is not let out by another report's number.
func TestExportsAreOfTheReport(t *testing.T) {
	server := serve(t)
	owner, reader := signIn(t, server, 1), signIn(t, server, 8)
	ids := furnish(t, owner)
	keep := func(title, brief, more string) string {
		_, out := owner.call("POST", "/api/reports", fmt.Sprintf(`{"title":%q,"description":"","folder":%s,"brief":%s%s}`, title, ids["$F"], brief, more))
		require.NotNil(t, out["id"], out)
		return fmt.Sprint(out["id"])
	}
	open := `{"field":"status","is":"any_of","values":["open"]}`
	id := keep("Open deals", `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},"filter":{"all":[`+open+`,{"field":"source","is":"any_of","values":["Tender"],"ask":true}]},"columns":[{"field":"name"},{"field":"value"}]}`, "")
	take := func(brief, report string) (int, string, string) {
		status, head, text := reader.text("POST", "/api/export", fmt.Sprintf(`{"brief":%s,"report":%s,"view":"records","format":"json"}`, brief, report))
		return status, head.Get("Content-Disposition"), text
	}
	asked := `{"field":"source","is":"any_of","values":["Tender"],"ask":true}`
	reading := func(filter, more string) string {
		return `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_year"},"filter":{"all":[` + filter + `]},"columns":[{"field":"name"}]` + more + `}`
	}
	for _, fine := range []string{reading(open+","+asked, ""), reading(open+`,{"field":"source","is":"any_of","values":["Referral"],"ask":true},{"field":"value","is":"over","values":["5"]}`, `,"whose":"mine","groups":[{"field":"stage"}],"limit":5`)} {
		status, name, text := take(fine, id)
		require.Equal(t, http.StatusOK, status, text)
		require.Contains(t, name, "changed for this reading")
	}
	for bad, at := range map[string]string{
		reading(asked, ""):                                                "/filter",
		reading(open, ""):                                                 "/filter",
		`{"version":1,"start":"deals"}`:                                   "/period",
		reading(open+","+asked, `,"bring":{"link":"lines"}`):              "/bring",
		reading(open+","+asked, `,"own":[{"key":"x","formula":"value"}]`): "/own/0",
		reading(open+","+asked, `,"summaries":[{"key":"s","fn":"sum","of":"likelihood"}]`):               "/summaries/0",
		strings.Replace(reading(open+","+asked, ""), `{"field":"name"}`, `{"field":"contact.email"}`, 1): "/columns/0",
		`{"version":1,"start":"customers"}`: "/start",
	} {
		status, _, text := take(bad, id)
		require.Equal(t, http.StatusForbidden, status, "%s: %s", bad, text)
		require.Contains(t, text, at)
	}
	status, _, _ := take(`{"version":1,"start":"deals"}`, ids["$K"])
	require.Equal(t, http.StatusForbidden, status, "its owner keeps it in")
	kept := keep("Kept in as well", `{"version":1,"start":"deals","columns":[{"field":"name"},{"field":"contact.email"}]}`, `,"noDownload":true`)
	status, _, _ = take(`{"version":1,"start":"deals","columns":[{"field":"name"},{"field":"contact.email"}]}`, ids["$T"])
	require.Equal(t, http.StatusForbidden, status, "another report's number does not let it out")
	composer := signIn(t, server, 7)
	status, _, _ = composer.text("POST", "/api/export", `{"brief":{"version":1,"start":"deals","columns":[{"field":"name"},{"field":"contact.email"}],"chart":{"kind":"bar"}},"view":"records","report":`+ids["$T"]+`}`)
	require.Equal(t, http.StatusForbidden, status, "nor other looks to a composer: report %s", kept)
}
