package brief_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

func TestTypesSeen(t *testing.T) {
	seen := func(members string) map[string][]string {
		b, err := brief.Decode([]byte(`{"version":1,"start":"deals"` + members + `}`))
		require.NoError(t, err)
		s, err := schema.New(schema.Settings{})
		require.NoError(t, err)
		was := len(s.Type("deals").Fields)
		out := map[string][]string{}
		for _, typ := range brief.TypesSeen(s, &b.Part) {
			for _, f := range typ.Fields[max(0, len(typ.Fields)-2):] {
				out[typ.Key] = append(out[typ.Key], f.Key+" "+string(f.Kind)+" "+f.To)
			}
		}
		require.Len(t, s.Type("deals").Fields, was, "the schema itself is not changed")
		return out
	}
	require.Empty(t, seen(""), "with nothing of its own, a report sees what there is")

	own := seen(`,"own":[
		{"key":"calls","linked":{"link":"activities","fn":"count"}},
		{"key":"size","label":"Size","bands":{"of":"value","edges":["1000"]}}]`)
	require.Equal(t, []string{"calls number ", "size choice "}, own["~own"])
	require.Contains(t, own["deals"], "own link ~own")

	brought := seen(`,"bring":{"link":"lines"}`)
	require.Contains(t, brought["deals"], "lines link ~brought0")
	require.NotEmpty(t, brought["~brought0"], "the fields of what is brought")

	half := seen(`,"own":[{"key":"sum","formula":"value +"},{"key":"n","linked":{"link":"activities","fn":"count"}}]`)
	require.Equal(t, []string{"n number "}, half["~own"], "a half-written field is left out, and takes no other with it")
	require.Empty(t, seen(`,"bring":{"link":"nothing"}`)["~brought0"])

	many := strings.Repeat(`{"key":"n","formula":"own.nothing"},`, brief.MaxOwn+1)
	require.Empty(t, seen(`,"own":[`+strings.TrimSuffix(many, ",")+`]`), "more than a report may have is not looked at")
}
