package brief_test

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
)

// published is the schema that is served, as another's validator reads it.
func published(t *testing.T) *jsonschema.Schema {
	t.Helper()
	text, err := brief.JSONSchema()
	require.NoError(t, err)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	c.AssertFormat()
	require.NoError(t, c.AddResource("brief.json", doc))
	s, err := c.Compile("brief.json")
	require.NoError(t, err)
	return s
}

func validate(t *testing.T, s *jsonschema.Schema, text []byte) error {
	t.Helper()
	v, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	require.NoError(t, err, "%s", text)
	return s.Validate(v)
}

// Every valid brief that the project has passes the published schema: the cases, those of time, the starters.
func TestPublishedSchemaTakesWhatIsRight(t *testing.T) {
	s := published(t)
	files, err := filepath.Glob("../../testdata/cases/*.brief.json")
	require.NoError(t, err)
	require.Greater(t, len(files), 20)
	for _, f := range files {
		data, err := os.ReadFile(f)
		require.NoError(t, err)
		assert.NoError(t, validate(t, s, data), f)
	}
	data, err := os.ReadFile("../../internal/starters/starters.json")
	require.NoError(t, err)
	var starters []struct {
		Key   string
		Brief json.RawMessage
	}
	require.NoError(t, json.Unmarshal(data, &starters))
	require.Greater(t, len(starters), 20)
	for _, st := range starters {
		assert.NoError(t, validate(t, s, st.Brief), st.Key)
	}
	for _, text := range []string{
		`{"version":1,"start":"deals","filter":{"all":[]},"groups":[],"summaries":[]}`,
		`{"version":1,"start":"deals","whose":{"people":["1"]},"period":{"field":"created","within":{"from":"2026-01-01"}},"compare":"year_before"}`,
		`{"version":1,"start":"deals","filter":{"any":[{"not":{"field":"value","is":"between","values":["1","2"]}},{"link":"lines","is":"some","at_least":2},{"field":"closed","is":"over","other":"expected_close","ask":true}]}}`,
		`{"version":1,"start":"deals","bring":{"link":"lines","keepEmpty":false,"where":{"field":"amount","is":"filled"}},"summaries":[{"key":"n","fn":"count","of":"lines"}]}`,
	} {
		assert.NoError(t, validate(t, s, []byte(text)), text)
	}
}

// What a schema can refuse, it does: as many of the bad cases as need no record types to be told, and each rule of what
// members need and exclude.
func TestPublishedSchemaRefusesWhatIsWrong(t *testing.T) {
	s := published(t)
	for _, name := range []string{"bad-period", "unknown-member"} {
		data, err := os.ReadFile("../../testdata/cases/" + name + ".bad.json")
		require.NoError(t, err)
		assert.Error(t, validate(t, s, data), name)
	}
	deals := func(members string) string { return `{"version":1,"start":"deals",` + members + `}` }
	cond := func(c string) string { return deals(`"filter":` + c) }
	for _, text := range []string{
		`{}`, `{"version":2,"start":"deals"}`, `{"version":1}`, `{"version":1,"start":"deals","parts":[]}`, `{"version":1,"parts":[{"key":"a","start":"deals"}]}`,
		`{"version":1,"parts":[{"key":"a","start":"deals"},{"key":"b","start":"deals"}],"columns":[]}`, `{"version":1,"parts":[{"start":"deals"},{"key":"b","start":"deals"}]}`,
		deals(`"sealed":"x"`), deals(`"fixed":{}`), deals(`"limit":0`), deals(`"target":"much"`), deals(`"target":"5","targetOf":"won"`), deals(`"compare":"previous_period"`), deals(`"compare":"last"`),
		deals(`"groups":[{}]`), deals(`"groups":[{"field":"a","paths":{}}]`), deals(`"groups":[{"field":"a","every":true,"top":{"n":1,"by":"n"}}]`), deals(`"groups":[{"field":"a","top":{"n":0,"by":"n"}}]`),
		deals(`"groups":[{"field":"a","top":{"n":2}}]`), deals(`"groups":[{"field":"a","by":"decade"}]`), deals(`"groups":[{"field":"a"},{"field":"a"},{"field":"a"},{"field":"a"},{"field":"a"}]`),
		deals(`"whose":"ours"`), deals(`"whose":{}`), deals(`"whose":{"people":[1]}`), deals(`"period":{"field":"created","within":{"last":3}}`), deals(`"period":{"field":"created","within":{"last":0,"unit":"day"}}`),
		deals(`"period":{"field":"created","within":{"last":3,"unit":"day","from":"2026-01-01"}}`), deals(`"period":{"field":"created","within":{"from":"1 May"}}`), deals(`"period":{"field":"created","within":{}}`),
		deals(`"summaries":[{"key":"n"}]`), deals(`"summaries":[{"key":"label","fn":"count"}]`), deals(`"summaries":[{"key":"N","fn":"count"}]`), deals(`"summaries":[{"key":"s","fn":"sum"}]`), deals(`"summaries":[{"key":"s","fn":"count","formula":"1"}]`),
		deals(`"own":[{"key":"a"}]`), deals(`"own":[{"key":"a","formula":"1","bands":{"of":"value","edges":["1"]}}]`), deals(`"own":[{"key":"a","linked":{"link":"lines","fn":"count","of":"amount"}}]`),
		deals(`"own":[{"key":"a","linked":{"link":"lines","fn":"newest","of":"amount"}}]`), deals(`"own":[{"key":"a","bands":{"of":"value","edges":[]}}]`), deals(`"own":[{"key":"a","merge":{"of":"stage","sets":[]}}]`),
		cond(`{}`), cond(`{"all":[],"any":[]}`), cond(`{"all":[],"field":"name","is":"filled"}`), cond(`{"all":[{}]}`), cond(`{"not":[]}`), cond(`{"field":"name"}`), cond(`{"field":"name","is":"some"}`), cond(`{"link":"lines","is":"filled"}`),
		cond(`{"field":"name","is":"any_of"}`), cond(`{"field":"name","is":"any_of","values":[]}`), cond(`{"field":"name","is":"any_of","values":[""]}`), cond(`{"field":"name","is":"any_of","values":[1]}`),
		cond(`{"field":"name","is":"any_of","values":["a"],"other":"b"}`), cond(`{"field":"name","is":"filled","values":["a"]}`), cond(`{"field":"value","is":"over","values":["1","2"]}`), cond(`{"field":"value","is":"between","values":["1"]}`),
		cond(`{"field":"created","is":"within","values":["today"]}`), cond(`{"field":"created","is":"within"}`), cond(`{"link":"lines","is":"none","at_least":2}`), cond(`{"link":"lines","is":"some","at_least":0}`), cond(`{"link":"lines","is":"some","values":["1"]}`),
		deals(`"chart":{"kind":"doughnut"}`), deals(`"chart":{"kind":"bar","palette":["red","green","blue"]}`), deals(`"chart":{"kind":"bar","height":5}`), deals(`"columns":[{"field":"name","format":{"decimals":9}}]`),
	} {
		assert.Error(t, validate(t, s, []byte(text)), text)
		b, err := brief.Decode([]byte(text))
		if err == nil {
			_, err = brief.Bind(b, testSchema(t))
		}
		assert.Error(t, err, "the schema is no stricter than the format: %s", text)
	}
}
