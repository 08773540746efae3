package httpapi_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/app"
	"uzzel/internal/demo"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/httpapi"
	"uzzel/internal/soak"
)

// odd are values that nobody would send who means well.
var odd = []any{nil, true, "", 0, -1, 1, 2, 7, 1 << 31, -1 << 31, 1 << 53, 0.5, 1e300, "x", "own.x", "customer.parent.parent.parent.parent.name", "id", "name", "value", "stage", "created", "=", "~blank", "~hidden", "~other",
	"\x00", "\u202e", strings.Repeat("a", 500), strings.Repeat("(", 80), "1e9", "999999999999999999999999999999999999999999", "2026-02-30", "0001-01-01", "9999-12-31", "all", "day", "month", "hour",
	[]any{}, map[string]any{}, []any{[]any{}}, map[string]any{"all": []any{}}, []any{nil}, map[string]any{"last": 1000, "unit": "year"}, map[string]any{"from": "0001-01-01", "to": "9999-12-31"}, "percent_of_parent", "running_total", "scatter", "funnel", "table"}

// grown are reports with every member, from which mutations start too.
var grown = []string{
	`{"version":1,"start":"deals","bring":{"link":"activities","where":{"all":[{"field":"kind","is":"any_of","values":["Call"]}]}},"period":{"field":"created","within":{"last":12,"unit":"month"}},"groups":[{"field":"activities.kind"},{"field":"created","by":"month","every":true}],"across":[{"field":"status"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value","show":"percent_of_total"},{"key":"m","fn":"median","of":"activities.minutes"},{"key":"f","formula":"v / n"}],"compare":"previous_period","chart":{"kind":"column_line","values":["n","v"]}}`,
	`{"version":1,"start":"customers","own":[{"key":"a","linked":{"link":"deals","fn":"newest","of":"stage","by":"created"}},{"key":"b","bands":{"of":"size","edges":["50","200"]}},{"key":"c","merge":{"of":"country","sets":[{"label":"North","values":["NO","SE"]}],"rest":"Elsewhere"}},{"key":"d","formula":"size * 2 + if(size > 50, 1, 0)"}],"groups":[{"field":"own.b"},{"field":"own.c","top":{"n":2,"by":"n","rest":"drop"}}],"summaries":[{"key":"n","fn":"count"},{"key":"s","fn":"sum","of":"own.d","show":"running_total"}],"columns":[{"field":"name","format":{"width":120}},{"field":"own.a"},{"field":"owner"}],"order":[{"field":"own.d","desc":true}],"limit":20,"blank":false}`,
	`{"version":1,"parts":[{"key":"won","start":"deals","filter":{"field":"status","is":"any_of","values":["won"]},"summaries":[{"key":"w","fn":"sum","of":"value"}]},{"key":"visits","start":"activities","summaries":[{"key":"k","fn":"count"}]}],"groups":[{"paths":{"won":"owner","visits":"owner"},"label":"Person"}],"summaries":[{"key":"per","formula":"w / k"}],"chart":{"kind":"scatter"}}`,
	`{"version":1,"start":"deals","filter":{"any":[{"not":{"field":"value","is":"between","values":["5","10"]}},{"link":"customer.activities","is":"some","at_least":2,"where":{"field":"done","is":"any_of","values":["true"]}},{"field":"closed","other":"expected_close","is":"over"}]},"groups":[{"field":"customer","top":{"n":3,"by":"n"}},{"field":"expected_close","by":"fiscal_quarter"}],"summaries":[{"key":"n","fn":"count"},{"key":"d","fn":"max","of":"closed"}],"target":"5","chart":{"kind":"heat"}}`,
	`{"version":1,"start":"deals","whose":"team","groups":[{"field":"stage","every":true}],"chart":{"kind":"funnel","steps":true}}`,
	`{"version":1,"start":"changes","groups":[{"field":"field"},{"field":"person"}]}`,
	`{"version":1,"start":"lines","groups":[{"field":"product.family"}],"across":[{"field":"deal.stage"}],"summaries":[{"key":"v","fn":"sum","of":"amount"}],"targetOf":"won_value"}`,
}

// mutate changes one thing, somewhere in a value.
func mutate(r *rand.Rand, v any) any {
	pick := func() any {
		if r.IntN(3) > 0 {
			return odd[r.IntN(len(odd))]
		}
		var b any
		_ = json.Unmarshal([]byte(grown[r.IntN(len(grown))]), &b)
		return part(r, b)
	}
	switch x := v.(type) {
	case map[string]any:
		keys := make([]string, 0, len(x))
		for k := range x {
			keys = append(keys, k)
		}
		if len(keys) == 0 || r.IntN(8) == 0 {
			x[[]string{"all", "any", "not", "field", "where", "top", "every", "by", "of", "show", "limit", "from", "count", "part", "marks", "reading", "groups", "across", "summaries", "chart", "brief", "start", "compare", "blank"}[r.IntN(24)]] = pick()
			return x
		}
		sortStrings(keys)
		k := keys[r.IntN(len(keys))]
		switch r.IntN(6) {
		case 0:
			delete(x, k)
		case 1:
			x[k] = pick()
		default:
			x[k] = mutate(r, x[k])
		}
		return x
	case []any:
		if len(x) == 0 {
			return []any{pick()}
		}
		i := r.IntN(len(x))
		switch r.IntN(6) {
		case 0:
			return append(x[:i:i], x[i+1:]...)
		case 1:
			for range 1 + r.IntN(40) {
				x = append(x, x[i])
			}
			return x
		case 2:
			return append(x, pick())
		default:
			x[i] = mutate(r, x[i])
			return x
		}
	case string:
		if r.IntN(2) == 0 && len(x) > 0 {
			cut := r.IntN(len(x))
			return x[:cut] + x[cut+1:]
		}
	}
	return pick()
}

// part is some part of a value.
func part(r *rand.Rand, v any) any {
	switch x := v.(type) {
	case map[string]any:
		keys := make([]string, 0, len(x))
		for k := range x {
			keys = append(keys, k)
		}
		sortStrings(keys)
		if len(keys) > 0 && r.IntN(4) > 0 {
			return part(r, x[keys[r.IntN(len(keys))]])
		}
	case []any:
		if len(x) > 0 && r.IntN(4) > 0 {
			return part(r, x[r.IntN(len(x))])
		}
	}
	return v
}

func sortStrings(list []string) {
	for i := range list {
		for j := i; j > 0 && list[j] < list[j-1]; j-- {
			list[j], list[j-1] = list[j-1], list[j]
		}
	}
}

// mutant is a request made of a good one.
func mutant(r *rand.Rand, ids map[string]string) (method, path, body string) {
	route := routes[r.IntN(len(routes))]
	// Most ask something; what is deleted is soon no longer there to be asked of.
	for asks := r.IntN(4) > 0; route.path == "/api/session" || (asks && !strings.Contains(route.body, "$Q")) || (!asks && route.method == "DELETE" && r.IntN(5) > 0); {
		route = routes[r.IntN(len(routes))]
	}
	method, path, body = route.method, route.path, route.body
	ids["$Q"] = grown[r.IntN(len(grown))]
	if r.IntN(3) == 0 {
		ids["$Q"] = deals
	}
	for _, key := range keys(ids) {
		path, body = strings.ReplaceAll(path, key, ids[key]), strings.ReplaceAll(body, key, ids[key])
	}
	if r.IntN(4) == 0 { // what is named in the address
		bits := strings.Split(path, "/")
		bits[2+r.IntN(len(bits)-2)] = []string{"0", "-1", "999999999999999999999", "1", "2", "deals", "x", "%00", "reports", "changes", "report", "board"}[r.IntN(12)]
		path = strings.Join(bits, "/")
	}
	if at := strings.IndexByte(path, '?'); at > 0 && r.IntN(2) == 0 {
		path = path[:at+1+r.IntN(len(path)-at)] + []string{"", "=", "&", "%", "customer.parent", "id"}[r.IntN(6)]
	}
	if body != "" {
		var v any
		if json.Unmarshal([]byte(body), &v) == nil {
			for range 1 + r.IntN(4) {
				v = mutate(r, v)
			}
			if text, err := json.Marshal(v); err == nil {
				body = string(text)
			}
		}
		if r.IntN(30) == 0 {
			body = body[:r.IntN(len(body)+1)]
		}
	}
	return method, path, body
}

// noted keeps what is logged as an error.
type noted struct{ bytes.Buffer }

// No request, however odd, is answered with an error of the server's own, nor after long, nor with much memory.
func TestOddRequests(t *testing.T) {
	began, count, slow := time.Now(), 0, time.Duration(0)
	long, patience := soak.For(45*time.Second), 20*time.Second
	if os.Getenv("SOAK") != "" { // on a machine that does nothing else
		patience = 2 * time.Second
	}
	statuses := map[int]int{}
	var most uint64
	for round := uint64(1); time.Since(began) < long; round++ {
		s := demotest.Open(t)
		log := &noted{}
		logger := slog.New(slog.NewJSONHandler(log, &slog.HandlerOptions{Level: slog.LevelError}))
		d, err := app.New(s, func() int32 { return demotest.Day }, logger)
		require.NoError(t, err)
		h, err := httpapi.New(d, httpapi.Config{Sessions: s.Sessions(), Demo: demo.Password, Log: logger})
		require.NoError(t, err)
		server := httptest.NewServer(h)
		owner := signIn(t, server, 1)
		ids := furnish(t, owner)
		actors := []*client{owner, signIn(t, server, 2), signIn(t, server, 8)}
		cookies := make([]string, len(actors))
		for i, a := range actors {
			req, err := http.NewRequest("GET", server.URL, nil)
			require.NoError(t, err)
			for _, c := range a.Jar.Cookies(req.URL) {
				cookies[i] = c.String()
			}
		}
		r := rand.New(rand.NewPCG(soak.Seed(), round))
		for range 2500 {
			if time.Since(began) > long {
				break
			}
			method, path, body := mutant(r, ids)
			req := httptest.NewRequest(method, "/", strings.NewReader(body))
			req.URL.Path, req.URL.RawQuery, _ = strings.Cut(path, "?")
			req.RequestURI = path
			req.Header.Set("Cookie", cookies[r.IntN(len(cookies))])
			req.Header.Set("Content-Type", "application/json")
			rec := httptest.NewRecorder()
			start := time.Now()
			h.ServeHTTP(rec, req)
			took := time.Since(start)
			slow = max(slow, took)
			count++
			statuses[rec.Code]++
			if rec.Code >= 500 || took > patience {
				t.Fatalf("round %d: %s %s\n%s\n-> %d after %v\n%s\n%s", round, method, path, body, rec.Code, took, rec.Body.String(), log.String())
			}
			if count%500 == 0 {
				var m runtime.MemStats
				runtime.ReadMemStats(&m)
				most = max(most, m.HeapInuse)
				require.Less(t, m.HeapInuse, uint64(1<<30), "after %s %s %s", method, path, body)
			}
		}
		server.Close()
		require.NoError(t, s.Close())
	}
	fmt.Printf("%d odd requests: %v, the longest %v, at most %d MB\n", count, statuses, slow, most>>20)
	require.Positive(t, statuses[200])
	require.Positive(t, statuses[422])
}
