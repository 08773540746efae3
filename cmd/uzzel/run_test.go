package main

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/demo"
	"uzzel/internal/store"
)

const byStage = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`

// tried runs a brief as the command does, over a small folder of records where nothing else is named.
func tried(t *testing.T, text string, f runFlags) (out, notes string, err error) {
	t.Helper()
	dir := t.TempDir()
	for name, content := range map[string]string{
		"settings.json": `{"timezone":"Europe/Lisbon","currency":"EUR","stages":[{"name":"Enquiry","status":"open"},{"name":"Ordered","status":"won"}]}`,
		"people.csv":    "id,name,team,active\n1,Maite Corrie,,true\n",
		"deals.csv":     "id,name,owner,stage,value\n1,Quay,1,Enquiry,100.50\n2,Jetty,1,Ordered,20\n3,Buoy,,Enquiry,\n",
		"brief.json":    text,
	} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(content), 0o600))
	}
	if f.data == "" && f.db == "" {
		f.data = dir
	}
	f.view, f.format = or(f.view, "summary"), or(f.format, "csv")
	var o, n bytes.Buffer
	err = run(context.Background(), filepath.Join(dir, "brief.json"), f, &o, &n)
	return o.String(), n.String(), err
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

func TestRunViews(t *testing.T) {
	for view, want := range map[string]string{
		"summary": "stage,n,v\nEnquiry,2,100.50\nOrdered,1,20.00\n",
		"totals":  "n,v\n3,120.50\n",
	} {
		out, notes, err := tried(t, byStage, runFlags{view: view})
		require.NoError(t, err, view)
		require.Equal(t, want, out, view)
		require.Empty(t, notes)
	}
	out, _, err := tried(t, `{"version":1,"start":"deals","columns":[{"field":"name"},{"field":"value"}],"order":[{"field":"value","desc":true}]}`, runFlags{view: "records"})
	require.NoError(t, err)
	require.Equal(t, "name,value\nQuay,100.50\nJetty,20.00\nBuoy,\n", out)
}

func TestRunFormats(t *testing.T) {
	out, _, err := tried(t, byStage, runFlags{format: "json"})
	require.NoError(t, err)
	require.True(t, json.Valid([]byte(out)), out)
	require.Contains(t, out, "100.50")
	out, _, err = tried(t, byStage, runFlags{format: "xlsx"})
	require.NoError(t, err)
	book, err := zip.NewReader(bytes.NewReader([]byte(out)), int64(len(out)))
	require.NoError(t, err)
	require.NotEmpty(t, book.File)
}

func TestRunSaysAndChecks(t *testing.T) {
	out, _, err := tried(t, byStage, runFlags{say: true})
	require.NoError(t, err)
	require.Equal(t, "Deals of everyone, by stage, showing count and sum of value.\n", out)
	out, _, err = tried(t, byStage, runFlags{check: true})
	require.NoError(t, err)
	require.Empty(t, out)
	out, _, err = tried(t, `{"version":1,"start":"deals","whose":"mine"}`, runFlags{view: "totals", as: "1"})
	require.NoError(t, err)
	require.Equal(t, "count\n2\n", out)
	_, notes, err := tried(t, byStage, runFlags{stats: true})
	require.NoError(t, err)
	require.Regexp(t, `^\d+ rows read, 2 lines; open [\d.]+ ms; .*columns [\d.]+ MB`, notes)
}

// A brief that is wrong ends with another code than a program that cannot run, and says where.
func TestRunRefuses(t *testing.T) {
	var exit exitError
	for text, says := range map[string]string{
		`{"version":1,"start":"deals","groups":[{"field":"stge"}]}`: "/groups/0/field",
		`{`: "not JSON",
		`{"version":1,"start":"deals","whose":"mine"}`: "",
	} {
		out, _, err := tried(t, text, runFlags{})
		require.ErrorAs(t, err, &exit, text)
		require.Equal(t, 2, exit.code)
		require.ErrorContains(t, err, says)
		require.Empty(t, out)
	}
	for says, f := range map[string]runFlags{
		"--view is records, summary, totals or moves":  {view: "charts"},
		"--format is csv, json, xlsx, svg, png or pdf": {format: "docx"},
		"--data names the folder":                      {data: "here", db: "there"},
		"--today":                                      {today: "tomorrow"},
		"no such file":                                 {db: filepath.Join(t.TempDir(), "none.db")},
	} {
		_, _, err := tried(t, byStage, f)
		require.ErrorContains(t, err, says)
		require.NotErrorAs(t, err, &exit, says)
	}
	_, _, err := tried(t, `{"version":1,"parts":[{"key":"a","start":"deals"},{"key":"b","start":"people","summaries":[{"key":"n","fn":"count"}]}]}`, runFlags{view: "records"})
	require.ErrorContains(t, err, "no list of records")
}

// The application's data file is read as it is, too.
func TestRunOnADataFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "seed.db")
	s, err := store.Open(path)
	require.NoError(t, err)
	require.NoError(t, demo.Seed(context.Background(), s, 50, period.Day(2026, 5, 14), func(string) {}))
	require.NoError(t, s.Close())
	out, _, err := tried(t, `{"version":1,"start":"deals"}`, runFlags{db: path, view: "totals", today: "2026-05-14"})
	require.NoError(t, err)
	require.Equal(t, "count\n50\n", out)
}

// Who reads a data file sees what he or she may see: their own deals, and only what belongs to those.
func TestRunObeysSight(t *testing.T) {
	path := filepath.Join(t.TempDir(), "demo.db")
	_, err := demo.Ensure(context.Background(), path, period.Day(2026, 5, 14), 1)
	require.NoError(t, err)
	s, err := store.Open(path)
	require.NoError(t, err)
	require.NoError(t, s.SetSees(context.Background(), "deals", "own", 0))
	require.NoError(t, s.Close())
	total := func(start, as string) string {
		out, _, err := tried(t, `{"version":1,"start":"`+start+`"}`, runFlags{db: path, view: "totals", today: "2026-05-14", as: as})
		require.NoError(t, err)
		return out
	}
	mine, _, err := tried(t, `{"version":1,"start":"deals","whose":"mine"}`, runFlags{db: path, view: "totals", today: "2026-05-14", as: "1"})
	require.NoError(t, err)
	require.NotEqual(t, "count\n0\n", mine)
	require.Equal(t, mine, total("deals", "1"))
	for _, start := range []string{"lines", "changes"} {
		require.NotEqual(t, total(start, "1"), total(start, "2"), start)
	}
}

// A run is painted in place of being written out, lists and what moved too; a brief that is wrong paints nothing.
func TestRunPaints(t *testing.T) {
	svg, _, err := tried(t, byStage, runFlags{format: "svg"})
	require.NoError(t, err)
	require.Contains(t, svg, "<svg")
	require.Contains(t, svg, "Enquiry")
	png, _, err := tried(t, byStage, runFlags{format: "png"})
	require.NoError(t, err)
	require.Equal(t, "\x89PNG", png[:4])
	for _, text := range []string{byStage, `{"version":1,"start":"deals"}`} {
		pdf, _, err := tried(t, text, runFlags{format: "pdf"})
		require.NoError(t, err)
		require.Equal(t, "%PDF-", pdf[:5])
	}
	moved, _, err := tried(t, `{"version":1,"start":"deals","since":"yesterday"}`, runFlags{view: "moves", format: "svg"})
	require.NoError(t, err)
	require.Contains(t, moved, "What moved")
	require.Contains(t, moved, "nothing moved", "the sentence")
	require.Contains(t, moved, ">now<", "where the bridge ends")
	out, _, err := tried(t, `{"version":1,"start":"ships"}`, runFlags{format: "svg"})
	var exit exitError
	require.ErrorAs(t, err, &exit)
	require.Equal(t, 2, exit.code)
	require.Empty(t, out)
	_, _, err = tried(t, byStage, runFlags{format: "gif"})
	require.ErrorContains(t, err, "svg, png or pdf")
}

// A dashboard is written on pages as a person sees it; nobody's eyes, or a dashboard that is not there, is an error.
func TestBoardOnPages(t *testing.T) {
	path := filepath.Join(t.TempDir(), "demo.db")
	_, err := demo.Ensure(context.Background(), path, period.Day(2026, 5, 14), 1)
	require.NoError(t, err)
	var out bytes.Buffer
	require.NoError(t, writeBoard(context.Background(), "1", path, "2", "2026-05-14", "pdf", &out))
	require.Equal(t, "%PDF-", out.String()[:5])
	out.Reset()
	for _, wrong := range [][2]string{{"1", ""}, {"99", "2"}, {"one", "2"}, {"1", "9999"}} {
		require.Error(t, writeBoard(context.Background(), wrong[0], path, wrong[1], "2026-05-14", "pdf", &out))
		require.Empty(t, out.String())
	}
}
