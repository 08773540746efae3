package main

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/app"
	"uzzel/internal/bringin"
	"uzzel/internal/demo"
	"uzzel/internal/store"
)

// Files of another system come in every night as they did from the screen, what others link to first; what is refused is
// said with line and reason, and by the exit code.
func TestEveryNight(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	db := filepath.Join(dir, "demo.db")
	_, err := demo.Ensure(ctx, db, period.Day(2026, 5, 14), 1)
	require.NoError(t, err)
	s, err := store.Open(db)
	require.NoError(t, err)
	a, err := app.New(s, func() int32 { return period.Day(2026, 5, 14) }, nil)
	require.NoError(t, err)
	who, err := a.People.Who(ctx, 1)
	require.NoError(t, err)
	byHand := func(typ, key, text string) {
		v := a.View(who)
		id, _, err := a.BringIn.Take(v, "first.csv", []byte(text))
		require.NoError(t, err)
		p, _, err := a.BringIn.Guess(ctx, v, id, typ)
		require.NoError(t, err)
		p.Key, p.Make = key, false
		require.NoError(t, a.BringIn.Start(ctx, v, id, p))
		require.Eventually(t, func() bool {
			now, err := a.BringIn.Progress(v, id)
			return err == nil && now.Phase == bringin.Done
		}, 20*time.Second, time.Millisecond)
	}
	byHand("customers", "name", "Firm;Town\nNight Marina;Kiel\n")
	byHand("deals", "name", "Subject;Firm;Sum\nNight pier;Night Marina;1.000,00\n")
	require.NoError(t, s.Close())

	night := filepath.Join(dir, "night")
	run := func(files map[string]string) (string, error) {
		require.NoError(t, os.RemoveAll(night))
		require.NoError(t, os.MkdirAll(night, 0o750))
		for name, text := range files {
			require.NoError(t, os.WriteFile(filepath.Join(night, name), []byte(text), 0o600))
		}
		var out bytes.Buffer
		c := importCommand()
		c.SetOut(&out)
		c.SetArgs([]string{night, "--db", db})
		c.SilenceUsage, c.SilenceErrors = true, true
		err := c.ExecuteContext(ctx)
		return out.String(), err
	}
	out, err := run(map[string]string{
		"a-orders.csv": "Subject;Firm;Sum\nNight pier;Night Marina;1.500,00\nDawn pier;Dawn Marina;20,00\n",
		"b-firms.csv":  "Firm;Town\nNight Marina;Kiel\nDawn Marina;Husum\n",
		"notes.pdf":    "no file of records",
	})
	require.NoError(t, err)
	require.Equal(t, "b-firms.csv: 1 new, 0 changed, 1 as they are, 0 refused\na-orders.csv: 1 new, 1 changed, 0 as they are, 0 refused\n", out)

	out, err = run(map[string]string{"orders.csv": "Subject;Firm;Sum\nDawn pier;Dawn Marina;20,00\nX;Nowhere;1,00\n"})
	var exit exitError
	require.ErrorAs(t, err, &exit)
	require.Equal(t, refusedLines, exit.code)
	require.Contains(t, out, "0 new, 0 changed, 1 as they are, 1 refused\n  line 3, Firm: there is no customer “Nowhere”\n")

	_, err = run(map[string]string{"other.csv": "Ship;Flag\nTern;PT\n"})
	require.ErrorContains(t, err, "other.csv: No file with these columns was brought in before")
	_, err = run(nil)
	require.ErrorContains(t, err, "no file to bring in")
}
