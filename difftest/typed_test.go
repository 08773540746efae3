package difftest

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/core/typed"
)

// What is said of random briefs is read back as what says the same, but for conditions inside conditions.
func TestSentencesAreReadBack(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	w := newWorld(t, 78)
	defer func() { _ = w.db.Close() }()
	snap := column.NewSnapshot(s, w)
	day, err := period.ParseDay(today)
	require.NoError(t, err)
	known := typed.Known{IDs: snap.Named}
	read, failed := 0, 0
	for i := range 1500 {
		m := &maker{r: rand.New(rand.NewPCG(5, uint64(i))), w: w, seen: map[string]int{}}
		made, _ := m.brief()
		data, err := json.Marshal(made)
		require.NoError(t, err)
		if strings.Count(string(data), `"any"`)+strings.Count(string(data), `"not"`) > 0 {
			continue
		}
		b, err := brief.Decode(data)
		require.NoError(t, err)
		bound, err := brief.Bind(b, s)
		require.NoError(t, err)
		said := brief.Say(bound, day, func(typ, id string) string { return snap.NameOf(typ, id, nil) }).String()
		read++
		got, un := typed.Read(said, s, known)
		again := "nothing"
		if got != nil && len(un) == 0 {
			if bound, err := brief.Bind(got, s); err != nil {
				again = err.Error()
			} else {
				again = brief.Say(bound, day, func(typ, id string) string { return snap.NameOf(typ, id, nil) }).String()
			}
		}
		if said != again {
			failed++
			if failed < 12 {
				t.Logf("said %s\nread %s\nunread %v", said, again, un)
			}
		}
	}
	assert.Zero(t, failed, "of %d", read)
	assert.Greater(t, read, 300)
}
