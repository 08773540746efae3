package exchange_test

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/column"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/internal/exchange"
)

func load(t *testing.T, name, text string) (*column.Table, *column.Snapshot, error) {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, name+".csv"), []byte(text), 0o600))
	s, err := schema.New(schema.Settings{})
	require.NoError(t, err)
	snap := column.NewSnapshot(s, exchange.Folder{Dir: dir})
	table, err := snap.Table(name)
	return table, snap, err
}

// A line that cannot be read is refused with file, line, column and reason.
func TestBadLines(t *testing.T) {
	for text, want := range map[string]string{
		"id,name\n1,a\n1,b\n":                `deals.csv:3:1: the id 1 stands already on line 2`,
		"id,name\n,a\n":                      `deals.csv:2:1: the record has no id`,
		"id,value\n1,10.005\n":               `deals.csv:2:3: value: "10.005" is not an amount of money`,
		"id,closed\n1,2026-02-30\n":          `deals.csv:2:3: closed: "2026-02-30" is not a date`,
		"id,created\n1,2026-02-20T25:00:00Z": `deals.csv:2:3: created: "2026-02-20T25:00:00Z" is not a time`,
		"id,nme\n1,a\n":                      `deals.csv:1:2: Deals have no field "nme"`,
		"id,name,name\n1,a,b\n":              `deals.csv:1:3: the column "name" stands twice`,
		"name\na\n":                          `deals.csv:1:1: there is no id column`,
		"id,name\n1,a,b\n":                   `deals.csv:2:1: wrong number of fields`,
		"id,name\n1,\"a\n":                   `deals.csv:2:6: extraneous or missing " in quoted-field`,
		"id,name\n1,\xff\n":                  `deals.csv:2:3: name is not in UTF-8`,
	} {
		_, _, err := load(t, "deals", text)
		require.ErrorContains(t, err, want)
	}
}

// Ids sort as numbers first, by value, then by code point; text is kept as written.
func TestIDsAndText(t *testing.T) {
	table, snap, err := load(t, "deals", "\xef\xbb\xbfid,name\nb,\" x \"\n10,ten\n9,nine\nA,\"say \"\"a\"\"\"\n007,seven\n")
	require.NoError(t, err)
	var ids, names []string
	c, err := snap.Column("deals", "name")
	require.NoError(t, err)
	for r := range int32(table.N) {
		ids, names = append(ids, table.IDs.At(r)), append(names, snap.Text(c, c.At(r), table))
	}
	require.Equal(t, []string{"007", "9", "10", "A", "b"}, ids)
	require.Equal(t, []string{"seven", "nine", "ten", `say "a"`, " x "}, names)
	require.EqualValues(t, -1, table.IDs.Row("7"), "an id is found as it is written")
}

// Cells that a spreadsheet would work out are defused, plain numbers are not.
func TestDefuse(t *testing.T) {
	var out bytes.Buffer
	n, err := exchange.WriteCSV(&out, result.Lines{Header: []string{"name", "value"}, Rows: [][]string{
		{`=HYPERLINK("x")`, "-12.50"}, {"+1", "3"}, {"-1+2", ""}, {"@a", "a,b"}, {"plain", `say "x"`}}}.Table(), true)
	require.NoError(t, err)
	require.Equal(t, 4, n)
	require.Equal(t, "name,value\n\"'=HYPERLINK(\"\"x\"\")\",-12.50\n'+1,3\n'-1+2,\n'@a,\"a,b\"\nplain,\"say \"\"x\"\"\"\n", out.String())
}
