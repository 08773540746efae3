package exchange_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/internal/exchange"
	"uzzel/internal/store"
	"uzzel/internal/transfer"
)

const (
	casesDir     = "../../testdata/cases"
	casesTimeDir = "../../testdata/cases-time"
)

func openFolder(t *testing.T, dir string) *column.Snapshot {
	t.Helper()
	folder := exchange.Folder{Dir: dir}
	set, err := folder.Settings()
	require.NoError(t, err)
	s, err := schema.New(set)
	require.NoError(t, err)
	return column.NewSnapshot(s, folder)
}

func readAll(t *testing.T, data []byte) [][]string {
	t.Helper()
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	return rows
}

// Every case of testdata/cases and of testdata/cases-time gives its expected result, numbers to a millionth: from the folder, from a data file that
// it was brought into, and from the folder that is taken out of that again.
func TestCases(t *testing.T) {
	for _, dir := range []string{casesDir, casesTimeDir} {
		list, err := os.ReadFile(filepath.Join(dir, "cases.csv"))
		require.NoError(t, err)
		s, err := store.Open(filepath.Join(t.TempDir(), "cases.db"))
		require.NoError(t, err)
		_, err = transfer.In(context.Background(), s, filepath.Join(dir, "data"))
		require.NoError(t, err)
		again := filepath.Join(t.TempDir(), "out")
		_, err = transfer.Out(context.Background(), s, again)
		require.NoError(t, err)
		for from, snap := range map[string]*column.Snapshot{
			"folder": openFolder(t, filepath.Join(dir, "data")), "data file": s.Snapshot(), "folder again": openFolder(t, again),
		} {
			for _, c := range readAll(t, list)[1:] {
				t.Run(c[0]+" from the "+from, func(t *testing.T) {
					data, err := os.ReadFile(filepath.Join(dir, c[0]+".brief.json"))
					require.NoError(t, err)
					lines, _ := run(t, snap, data, c[1], c[2], c[3])
					var out bytes.Buffer
					_, err = exchange.WriteCSV(&out, lines.Table(), false)
					require.NoError(t, err)
					want, err := os.ReadFile(filepath.Join(dir, c[0]+".expected.csv"))
					require.NoError(t, err)
					requireSame(t, readAll(t, want), readAll(t, out.Bytes()))
				})
			}
		}
		require.NoError(t, s.Close())
	}
}

// run answers a brief and says its sentence.
func run(t *testing.T, snap *column.Snapshot, data []byte, view, reader, day string) (result.Lines, string) {
	t.Helper()
	b, err := brief.Decode(data)
	require.NoError(t, err)
	bound, err := brief.Bind(b, snap.Schema)
	require.NoError(t, err)
	today, err := period.ParseDay(day)
	require.NoError(t, err)
	said := brief.Say(bound, today, func(typ, id string) string { return snap.NameOf(typ, id, nil) }).String()
	opts := engine.Options{Today: today, Reader: reader}
	if view == "moves" {
		m, err := engine.RunMoves(context.Background(), snap, bound, opts)
		require.NoError(t, err)
		return m.Lines(), said
	}
	if view == "records" {
		l, err := engine.List(context.Background(), snap, bound, opts)
		require.NoError(t, err)
		lines, err := l.Lines(context.Background())
		require.NoError(t, err)
		return lines, said
	}
	r, err := engine.Run(context.Background(), snap, bound, opts)
	require.NoError(t, err)
	if view == "totals" {
		return r.Totals(), said
	}
	return r.Summary(), said
}

var example = regexp.MustCompile("(?s)\n## ([^\n]*)\n.*?```json\n(.*?)\n```\n\n> (.*?)\n\n```csv (\\w+)\n(.*?)\n```")

// The worked examples read and come out as they say.
func TestWorkedExamples(t *testing.T) {
	workedExamples(t, "../../docs/brief-examples.md", "../../testdata/examples")
	workedExamples(t, "../../docs/currency-examples.md", "../../testdata/currencies")
}

func workedExamples(t *testing.T, file, folder string) {
	t.Helper()
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	snap := openFolder(t, folder)
	list := example.FindAllStringSubmatch(string(text), -1)
	require.Equal(t, strings.Count(string(text), "\n## "), len(list), "an example is not written as the others are")
	for _, e := range list {
		t.Run(e[1], func(t *testing.T) {
			lines, said := run(t, snap, []byte(e[2]), e[4], "2", "2026-05-14")
			require.Equal(t, e[3], said)
			var out bytes.Buffer
			_, err := exchange.WriteCSV(&out, lines.Table(), false)
			require.NoError(t, err)
			require.Equal(t, e[5]+"\n", out.String())
		})
	}
}

func requireSame(t *testing.T, want, got [][]string) {
	t.Helper()
	require.Equal(t, len(want), len(got), "lines")
	for i := range want {
		require.Equal(t, len(want[i]), len(got[i]), "line %d", i+1)
		for j := range want[i] {
			x, errX := strconv.ParseFloat(want[i][j], 64)
			y, errY := strconv.ParseFloat(got[i][j], 64)
			if errX == nil && errY == nil {
				require.LessOrEqual(t, math.Abs(x-y), 1e-6, "line %d column %d: %s, not %s", i+1, j+1, want[i][j], got[i][j])
				continue
			}
			require.Equal(t, want[i][j], got[i][j], "line %d column %d", i+1, j+1)
		}
	}
}

// Every brief that is bad is refused, naming a member by JSON pointer.
func TestBadCases(t *testing.T) {
	for _, dir := range []string{casesDir, casesTimeDir} {
		files, err := filepath.Glob(filepath.Join(dir, "*.bad.json"))
		require.NoError(t, err)
		require.NotEmpty(t, files)
		snap := openFolder(t, filepath.Join(dir, "data"))
		for _, f := range files {
			t.Run(filepath.Base(f), func(t *testing.T) {
				data, err := os.ReadFile(f)
				require.NoError(t, err)
				b, err := brief.Decode(data)
				if err == nil {
					var bound *brief.Bound
					if bound, err = brief.Bind(b, snap.Schema); err == nil {
						_, _, err = bound.Days(period.Day(2026, 5, 14))
					}
				}
				var problems brief.Problems
				require.ErrorAs(t, err, &problems)
				require.True(t, strings.HasPrefix(problems[0].Pointer, "/"))
			})
		}
	}
}
