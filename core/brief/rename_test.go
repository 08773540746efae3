package brief_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

func TestRenameValues(t *testing.T) {
	s, err := schema.New(schema.Settings{})
	require.NoError(t, err)
	for _, c := range []struct {
		name, was, want string
		changed         bool
	}{
		{
			"its own and linked ones, deep inside",
			`{"version":1,"start":"deals","filter":{"all":[{"field":"stage","is":"any_of","values":["Enquiry","Design"],"fixed":true},{"not":{"any":[{"link":"activities","where":{"field":"deal.stage","is":"any_of","values":["Design"]}}]}}]}}`,
			`{"version":1,"start":"deals","filter":{"all":[{"field":"stage","is":"any_of","values":["Enquiry","Drawing"],"fixed":true},{"not":{"any":[{"link":"activities","where":{"field":"deal.stage","is":"any_of","values":["Drawing"]}}]}}]}}`,
			true,
		},
		{
			"two that become one, once",
			`{"version":1,"start":"lines","filter":{"field":"deal.stage","is":"any_of","values":["Design","Drawing"]}}`,
			`{"version":1,"start":"lines","filter":{"field":"deal.stage","is":"any_of","values":["Drawing"]}}`,
			true,
		},
		{
			"brought records, summaries, own fields, parts",
			`{"version":1,"parts":[{"key":"a","start":"customers","bring":{"link":"deals","where":{"field":"stage","is":"any_of","values":["Design"]}},"own":[{"key":"n","linked":{"link":"deals","fn":"count","where":{"field":"stage","is":"any_of","values":["Design"]}}}]},{"key":"b","start":"deals","own":[{"key":"m","merge":{"of":"stage","sets":[{"label":"Early","values":["Design"]}]}}],"summaries":[{"key":"n","fn":"count","where":{"field":"stage","is":"any_of","values":["Design"]}}]}]}`,
			`{"version":1,"parts":[{"key":"a","start":"customers","bring":{"link":"deals","where":{"field":"stage","is":"any_of","values":["Drawing"]}},"own":[{"key":"n","linked":{"link":"deals","fn":"count","where":{"field":"stage","is":"any_of","values":["Drawing"]}}}]},{"key":"b","start":"deals","own":[{"key":"m","merge":{"of":"stage","sets":[{"label":"Early","values":["Drawing"]}]}}],"summaries":[{"key":"n","fn":"count","where":{"field":"stage","is":"any_of","values":["Drawing"]}}]}]}`,
			true,
		},
		{
			"another field of the same values",
			`{"version":1,"start":"deals","filter":{"all":[{"field":"kind","is":"any_of","values":["Design"]},{"field":"name","is":"contains","values":["Design"]},{"field":"own.stage","is":"any_of","values":["Design"]},{"field":"nothing.stage","is":"any_of","values":["Design"]}]}}`,
			"",
			false,
		},
	} {
		b, err := brief.Decode([]byte(c.was))
		require.NoError(t, err, c.name)
		require.Equal(t, c.changed, brief.RenameValues(s, b, "deals", "stage", map[string]string{"Design": "Drawing"}), c.name)
		text, err := json.Marshal(b)
		require.NoError(t, err)
		if c.want == "" {
			c.want = c.was
		}
		require.JSONEq(t, c.want, string(text), c.name)
	}
}
