package exchange_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"math"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/exchange"
)

const casesDir = "../../testdata/cases"

func openCases(t *testing.T) *column.Snapshot {
	t.Helper()
	folder := exchange.Folder{Dir: filepath.Join(casesDir, "data")}
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

// Every case of testdata/cases gives its expected result, numbers to a millionth.
func TestCases(t *testing.T) {
	list, err := os.ReadFile(filepath.Join(casesDir, "cases.csv"))
	require.NoError(t, err)
	snap := openCases(t)
	for _, c := range readAll(t, list)[1:] {
		t.Run(c[0], func(t *testing.T) {
			data, err := os.ReadFile(filepath.Join(casesDir, c[0]+".brief.json"))
			require.NoError(t, err)
			b, err := brief.Decode(data)
			require.NoError(t, err)
			bound, err := brief.Bind(b, snap.Schema)
			require.NoError(t, err)
			today, err := period.ParseDay(c[3])
			require.NoError(t, err)
			opts := engine.Options{Today: today, Reader: c[2]}
			var lines engine.Lines
			if c[1] == "records" {
				l, err := engine.List(context.Background(), snap, bound, opts)
				require.NoError(t, err)
				lines = l.Lines()
			} else {
				r, err := engine.Run(context.Background(), snap, bound, opts)
				require.NoError(t, err)
				lines = r.Summary()
				if c[1] == "totals" {
					lines = r.Totals()
				}
			}
			var out bytes.Buffer
			_, err = exchange.WriteCSV(&out, lines, false)
			require.NoError(t, err)
			want, err := os.ReadFile(filepath.Join(casesDir, c[0]+".expected.csv"))
			require.NoError(t, err)
			requireSame(t, readAll(t, want), readAll(t, out.Bytes()))
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
	files, err := filepath.Glob(filepath.Join(casesDir, "*.bad.json"))
	require.NoError(t, err)
	require.NotEmpty(t, files)
	snap := openCases(t)
	for _, f := range files {
		t.Run(filepath.Base(f), func(t *testing.T) {
			data, err := os.ReadFile(f)
			require.NoError(t, err)
			b, err := brief.Decode(data)
			if err == nil {
				_, err = brief.Bind(b, snap.Schema)
			}
			var problems brief.Problems
			require.ErrorAs(t, err, &problems)
			require.True(t, strings.HasPrefix(problems[0].Pointer, "/"))
		})
	}
}
