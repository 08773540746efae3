package typed_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/schema"
	"uzzel/core/typed"
)

// What is said of states is read back as it was, in each of its forms.
func TestMomentsAreReadBack(t *testing.T) {
	s, err := schema.New(schema.Settings{Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}}})
	require.NoError(t, err)
	const today = 20587 // 14 May 2026
	for _, text := range []string{
		`"asOf":"2026-05-11"`, `"asOf":"yesterday"`, `"asOf":"last_week"`, `"asOf":"last_fiscal_quarter","periods":"then"`,
		`"asOf":{"ago":1,"unit":"week"}`, `"asOf":{"ago":3,"unit":"month"}`, `"asOf":{"ago":0,"unit":"day"}`,
		`"since":"last_month"`, `"since":"2026-01-01","asOf":"last_week"`, `"since":{"ago":6,"unit":"week"},"compare":"previous_period"`,
	} {
		b, err := brief.Decode([]byte(`{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},` + text + `,"summaries":[{"key":"count","fn":"count"}],"chart":{"kind":"bar"}}`))
		require.NoError(t, err, text)
		bound, err := brief.Bind(b, s)
		require.NoError(t, err, text)
		said := brief.Say(bound, today, nil).String()
		back, un := typed.Read(said, s, typed.Known{})
		require.Empty(t, un, said)
		want, err := json.Marshal(b)
		require.NoError(t, err)
		got, err := json.Marshal(back)
		require.NoError(t, err)
		require.JSONEq(t, string(want), string(got), said)
	}
}
