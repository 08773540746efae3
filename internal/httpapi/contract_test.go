package httpapi_test

import (
	"bytes"
	"net/http"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every answer is as the contract says, as another's validator reads both: of each route, by those who may, and by
// those who may not.
func TestAnswersAreAsTheContractSays(t *testing.T) {
	data, err := os.ReadFile("../../docs/openapi.json")
	require.NoError(t, err)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(data))
	require.NoError(t, err)
	paths := doc.(map[string]any)["paths"].(map[string]any)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("openapi.json", doc))
	at := func(parts ...string) string {
		for i, p := range parts {
			parts[i] = strings.NewReplacer("~", "~0", "/", "~1").Replace(p)
		}
		return "openapi.json#/" + strings.Join(parts, "/")
	}
	// The path of the contract that a request is to: the one that names most of it.
	pattern := func(path string) (best string) {
		for p := range paths {
			a, b := strings.Split(p, "/"), strings.Split(path, "/")
			fits := len(a) == len(b)
			for i := 0; fits && i < len(a); i++ {
				fits = a[i] == b[i] || strings.HasPrefix(a[i], "{")
			}
			if fits && (best == "" || strings.Count(p, "{") < strings.Count(best, "{")) {
				best = p
			}
		}
		return best
	}
	server := serve(t)
	owner, admin := signIn(t, server, 1), signIn(t, server, 2)
	ids := furnish(t, owner)
	checked := 0
	for _, r := range routes {
		path, body := r.path, r.body
		for _, key := range keys(ids) {
			path, body = strings.ReplaceAll(path, key, ids[key]), strings.ReplaceAll(body, key, ids[key])
		}
		bare, _, _ := strings.Cut(path, "?")
		p := pattern(bare)
		if p == "" || r.path == "/api/session" || r.path == "/api/export" {
			continue
		}
		for _, who := range []*client{signIn(t, server, 0), owner, admin} {
			status, head, text := who.text(r.method, path, body)
			kind, _, _ := strings.Cut(head.Get("Content-Type"), ";")
			var where string
			switch {
			case kind == "application/json" && status == http.StatusOK:
				where = at("paths", p, strings.ToLower(r.method), "responses", "200", "content", kind, "schema")
			case kind == "application/problem+json":
				where = at("components", "schemas", "ErrorBody")
			default:
				continue
			}
			schema, err := c.Compile(where)
			if !assert.NoError(t, err, "%s %s", r.method, p) {
				continue
			}
			v, err := jsonschema.UnmarshalJSON(strings.NewReader(text))
			require.NoError(t, err, "%s %s: %s", r.method, p, text)
			assert.NoError(t, schema.Validate(v), "%s %s", r.method, p)
			checked++
		}
	}
	require.Greater(t, checked, 120)
}
