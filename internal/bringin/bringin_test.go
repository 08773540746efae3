package bringin_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"uzzel/core/period"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/bringin"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/records"
)

var ctx = context.Background()

const maite, osric, runa = 1, 2, 4

func guessed(a *app.App, v *answers.View, id string) (bringin.Plan, error) {
	p, _, err := a.BringIn.Guess(ctx, v, id, "deals")
	return p, err
}

// brought brings a file in and waits until that is over.
func brought(a *app.App, v *answers.View, id string, p bringin.Plan) (int64, *bringin.Outcome, error) {
	if err := a.BringIn.Start(ctx, v, id, p); err != nil {
		return 0, nil, err
	}
	for {
		now, err := a.BringIn.Progress(v, id)
		if err != nil || now.Err != nil || now.Phase == bringin.Done || now.Phase == bringin.Stopped {
			return now.Import, now.Outcome, errors.Join(err, now.Err)
		}
		time.Sleep(time.Millisecond)
	}
}

func TestRead(t *testing.T) {
	text := "Name;City;Größe\nHafen \"Süd\";Kiel;1.234,5\n\n  ;;\nMarina;;7\n"
	latin, err := charmap.Windows1252.NewEncoder().String(text)
	require.NoError(t, err)
	wide, err := unicode.UTF16(unicode.BigEndian, unicode.UseBOM).NewEncoder().String(text)
	require.NoError(t, err)
	for encoding, data := range map[string]string{"utf-8": "\ufeff" + text, "windows-1252": latin, "utf-16": wide} {
		s, err := bringin.Read("a.csv", []byte(data))
		require.NoError(t, err)
		require.Equal(t, []string{encoding, ";"}, []string{s.Encoding, s.Separator})
		require.Equal(t, []string{"Name", "City", "Größe"}, s.Header)
		require.Equal(t, [][]string{{`Hafen "Süd"`, "Kiel", "1.234,5"}, {"Marina", "", "7"}}, s.Rows, encoding)
		require.Equal(t, []int{2, 5}, s.Lines)
	}
	for sep, text := range map[string]string{
		",":  "a,b\n\"1;2;3;4\",2\n",
		"\t": "a\tb\n1,5\t2,5\n",
		"|":  "a|b|c\n1|2|3\n",
	} {
		s, err := bringin.Read("a.csv", []byte(text))
		require.NoError(t, err)
		require.Equal(t, sep, s.Separator)
	}
	for says, data := range map[string]string{
		"has no columns":     "",
		"no file of text":    "\xff\xd8\xff\x00\x00",
		"a quote may not be": "a,b\n\"" + strings.Repeat("x\n", 100_000) + ",2\n",
		"at most 200":        strings.Repeat("a,", 300) + "a\n1\n",
		"more than 1200000":  "a\n" + strings.Repeat("1\n", bringin.MaxLines+1),
	} {
		_, err := bringin.Read("a.csv", []byte(data))
		require.ErrorContains(t, err, says)
	}
}

func FuzzRead(f *testing.F) {
	for _, s := range []string{"a,b\n1,2\n", "\xff\xfea\x00", "a;b\n\"1", "\"\"\"\n", "a\x00b", ",,,\n,,,"} {
		f.Add([]byte(s))
	}
	book := excelize.NewFile()
	require.NoError(f, book.SetSheetRow("Sheet1", "A1", &[]any{"Name", 1.5, time.Date(2026, 5, 14, 0, 0, 0, 0, time.UTC)}))
	var data bytes.Buffer
	require.NoError(f, book.Write(&data))
	f.Add(data.Bytes())
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := bringin.Read("a.csv", data)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		require.Len(t, s.Lines, len(s.Rows))
		for _, row := range s.Rows {
			require.Len(t, row, len(s.Header))
		}
	})
}

const orders = `Subject;Company;Sales rep;Amount;Close date;Stage;Created on;Colour
Fuel jetty;Tarnwick Marina;Runa Kestle;1.234,50;31.12.2026;Enquiry;01.02.2025 14:30;red
Long pier;Nowhere Boats;p4@brinehaven.example;"€ 12.000";;ordered;;
Short pier;nowhere boats;Nobody;10;;Enquiry;;
Old pier;;;viel;;Enquiry;;
Wrong pier;;;1;30.02.2026;Enquiry;;
;Tarnwick Marina;;1;;Enquiry;;
`

func TestGuessAndTry(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	id, s, err := a.BringIn.Take(v, "orders.csv", []byte(orders))
	require.NoError(t, err)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	var got []string
	for i, c := range p.Columns {
		got = append(got, s.Header[i]+"="+c.Field+" "+c.Form)
	}
	require.Equal(t, []string{"Subject=name ", "Company=customer ", "Sales rep=owner ", "Amount=value comma",
		"Close date=expected_close dmy", "Stage=stage ", "Created on=created dmy", "Colour= "}, got)

	o, err := a.BringIn.Try(ctx, v, id, p)
	require.NoError(t, err)
	require.Equal(t, []int{2, 0, 0}, []int{o.New, o.Changed, o.Same})
	require.Equal(t, map[string]int{"Customers": 1}, o.Makes)
	var refused []string
	for _, r := range o.Refused {
		refused = append(refused, fmt.Sprint(r.Line, " ", r.Column, ": ", r.Reason))
	}
	require.Equal(t, []string{
		"4 Sales rep: there is no person “Nobody”",
		"5 Amount: Value: “viel” is no money: write it as 1234.50, with two decimals at most",
		"6 Close date: Expected close: “30.02.2026” is no date: write it as 2026-05-14",
		"7 Subject: Name: it cannot be empty",
	}, refused)
	before, err := v.Snap.Table("deals")
	require.NoError(t, err)
	now, err := demotest.View(t, a, maite).Snap.Table("deals")
	require.NoError(t, err)
	require.Equal(t, before.N, now.N, "nothing is written")

	p.Make = false
	o, err = a.BringIn.Try(ctx, v, id, p)
	require.NoError(t, err)
	require.Equal(t, 1, o.New)
	require.Equal(t, "there is no customer “Nowhere Boats”", o.Refused[0].Reason)

	_, err = a.BringIn.Try(ctx, demotest.View(t, a, osric), id, p)
	require.True(t, fault.Is(err, fault.NotFound), "another's file")
	_, _, err = a.BringIn.Take(demotest.View(t, a, runa), "a.csv", []byte(orders))
	require.True(t, fault.Is(err, fault.Forbidden), "a reader")
}

// What is brought in is there at once, with the customer that it names, and can be taken back later, but for what people
// changed since.
func TestBringInAndUndo(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	id, _, err := a.BringIn.Take(v, "orders.csv", []byte(orders))
	require.NoError(t, err)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	i, o, err := brought(a, v, id, p)
	require.NoError(t, err)
	require.Equal(t, []int{2, 4}, []int{o.New, len(o.Refused)})
	v = demotest.View(t, a, maite)
	first, err := a.Records.Read(ctx, v, "deals", 2601)
	require.NoError(t, err)
	require.Equal(t, []string{"Fuel jetty", "1234.50", "2026-12-31", "4", "Enquiry"}, []string{first.Values["name"], first.Values["value"],
		first.Values["expected_close"], first.Values["owner"], first.Values["stage"]})
	require.Equal(t, "2025-02-01", first.Values["created"][:10])
	second, err := a.Records.Read(ctx, v, "deals", 2602)
	require.NoError(t, err)
	require.Equal(t, []string{"12000.00", "Ordered", "421", "2026-05-14"}, []string{second.Values["value"], second.Values["stage"], second.Values["customer"], second.Values["closed"]})
	made, err := a.Records.Read(ctx, v, "customers", 421)
	require.NoError(t, err)
	require.Equal(t, "Nowhere Boats", made.Values["name"])

	// The same file again by its name: what is as it is there is left alone, what is other is changed.
	id, s, err := a.BringIn.Take(v, "again.csv", []byte("Name;Value\nFuel jetty;1234,50\nLong pier;99\nNew pier;5\nNew pier;6\n"))
	require.NoError(t, err)
	p, err = guessed(a, v, id)
	require.NoError(t, err)
	p.Key = s.Header[0]
	_, err = a.BringIn.Try(ctx, v, id, p)
	require.ErrorContains(t, err, "by which lines are to be found")
	p.Key = "name"
	i2, o, err := brought(a, v, id, p)
	require.NoError(t, err)
	require.Equal(t, []int{1, 1, 1, 1}, []int{o.New, o.Changed, o.Same, len(o.Refused)})
	require.Contains(t, o.Refused[0].Reason, "line 4 has")

	_, err = a.Records.Change(ctx, demotest.View(t, a, runa), "deals", []records.Edit{{ID: 2601, Values: records.Values{"value": "7"}}})
	require.NoError(t, err)
	_, err = a.BringIn.Undo(ctx, demotest.View(t, a, 7), i2)
	require.True(t, fault.Is(err, fault.Forbidden), "another composer's import")
	left, err := a.BringIn.Undo(ctx, demotest.View(t, a, maite), i2)
	require.NoError(t, err)
	require.Zero(t, left)
	second, err = a.Records.Read(ctx, demotest.View(t, a, maite), "deals", 2602)
	require.NoError(t, err)
	require.Equal(t, "12000.00", second.Values["value"], "the change is taken back")
	left, err = a.BringIn.Undo(ctx, demotest.View(t, a, maite), i)
	require.NoError(t, err)
	require.Equal(t, 2, left, "the one that Runa changed, and the one that was changed and back, which has another change since")
	_, err = a.Records.Read(ctx, demotest.View(t, a, maite), "customers", 421)
	require.True(t, fault.Is(err, fault.NotFound))
	_, err = a.BringIn.Undo(ctx, demotest.View(t, a, maite), i)
	require.True(t, fault.Is(err, fault.Stale))
	list, err := a.BringIn.List(ctx, demotest.View(t, a, maite))
	require.NoError(t, err)
	require.Len(t, list, 2)
}

func TestForms(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	for cells, want := range map[string][2]string{
		"expected_close|2026-05-14":                    {"ymd", "2026-05-14"},
		"expected_close|14/05/2026|01/02/2026":         {"dmy", "2026-05-14"},
		"expected_close|05/14/2026|01/02/2026":         {"mdy", "2026-05-14"},
		"expected_close|14. May 2026|1. February 2026": {"words", "2026-05-14"},
		"expected_close|May 14, 2026":                  {"words", "2026-05-14"},
		"value|1,234.56|10":                            {"point", "1234.56"},
		"value|1.234,56|10":                            {"comma", "1234.56"},
		"value|1 234,56":                               {"comma", "1234.56"},
		"value|(12.50)":                                {"point", "-12.50"},
		"value|1’234.50 EUR":                           {"point", "1234.50"},
		"likelihood|12,5 %":                            {"comma", "12.5"},
	} {
		parts := strings.Split(cells, "|")
		text := "Name\t" + parts[0]
		for i, c := range parts[1:] {
			text += "\nA" + strconv.Itoa(i) + "\t" + c
		}
		id, _, err := a.BringIn.Take(v, "a.csv", []byte(text))
		require.NoError(t, err)
		p, err := guessed(a, v, id)
		require.NoError(t, err)
		require.Equal(t, want[0], p.Columns[1].Form, cells)
		_, o, err := brought(a, demotest.View(t, a, maite), id, p)
		require.NoError(t, err)
		require.Empty(t, o.Refused, cells)
		list, _, err := a.Records.Page(ctx, demotest.View(t, a, maite), "deals", 2600, 1000)
		require.NoError(t, err)
		require.Equal(t, want[1], list[len(list)-o.New].Values[parts[0]], cells)
	}
	id, _, err := a.BringIn.Take(v, "a.csv", []byte("Name\tExpected close\nA\t01/02/2026\n"))
	require.NoError(t, err)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	require.True(t, p.Columns[1].Unsure, "it could be the first of February, or the second of January")
}

// Many lines take a time that grows with them, and memory that is let go.
func TestManyLines(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	var text strings.Builder
	text.WriteString("Name,Customer,Value,Stage\n")
	for i := range 10_000 {
		fmt.Fprintf(&text, "Pier %d,Customer %d,%d.50,Enquiry\n", i, i%500, i)
	}
	id, _, err := a.BringIn.Take(v, "many.csv", []byte(text.String()))
	require.NoError(t, err)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	start := time.Now()
	_, o, err := brought(a, v, id, p)
	require.NoError(t, err)
	require.Equal(t, 10_000, o.New)
	require.Equal(t, 500, o.Makes["Customers"])
	t.Logf("10,000 lines in %v", time.Since(start))
	table, err := demotest.View(t, a, maite).Snap.Table("deals")
	require.NoError(t, err)
	require.Equal(t, 12_600, table.N)
}

// Brings three deals in from a file of another system, one of which is refused.
func ExampleBringIn_Try() {
	t := &testing.T{}
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	id, _, _ := a.BringIn.Take(v, "orders.csv", []byte("Title;Amount\nFuel jetty;1.234,50\nPier;99\nGangway;much\n"))
	p, _ := guessed(a, v, id)
	o, err := a.BringIn.Try(ctx, v, id, p)
	fmt.Println(o.New, "new;", o.Refused[0].Line, o.Refused[0].Reason, err)
	// Output: 2 new; 4 Value: “much” is no money: write it as 1234.50, with two decimals at most <nil>
}

// A workbook is read as its cells are kept: days as days, numbers without what they are shown with, in the first sheet.
func TestReadWorkbook(t *testing.T) {
	book := excelize.NewFile()
	defer func() { require.NoError(t, book.Close()) }()
	style := func(s *excelize.Style) int {
		id, err := book.NewStyle(s)
		require.NoError(t, err)
		return id
	}
	long, money := `[$-809]d "of" mmmm yyyy;@`, `#,##0.00 "h €"`
	set := func(cell string, v any, id int) {
		require.NoError(t, book.SetCellValue("Sheet1", cell, v))
		if id > 0 {
			require.NoError(t, book.SetCellStyle("Sheet1", cell, cell, id))
		}
	}
	require.NoError(t, book.SetSheetRow("Sheet1", "A3", &[]string{"Name", "Value", "Close", "At", "Code"}))
	set("A4", "Pier", 0)
	set("B4", 1234.5, style(&excelize.Style{CustomNumFmt: &money}))
	set("C4", time.Date(2026, 5, 14, 0, 0, 0, 0, time.UTC), style(&excelize.Style{CustomNumFmt: &long}))
	set("D4", time.Date(2026, 5, 14, 9, 30, 0, 0, time.UTC), style(&excelize.Style{NumFmt: 22}))
	set("E4", "007", 0)
	set("A6", "Quay", 0)
	var data bytes.Buffer
	require.NoError(t, book.Write(&data))
	s, err := bringin.Read("a.xlsx", data.Bytes())
	require.NoError(t, err)
	require.Equal(t, bringin.Workbook, s.Encoding)
	require.Equal(t, []string{"Name", "Value", "Close", "At", "Code"}, s.Header)
	require.Equal(t, [][]string{{"Pier", "1234.5", "2026-05-14", "2026-05-14T09:30:00", "007"}, {"Quay", "", "", "", ""}}, s.Rows)
	require.Equal(t, []int{4, 6}, s.Lines)
	for _, data := range [][]byte{[]byte("PK\x03\x04"), data.Bytes()[:len(data.Bytes())/2]} {
		_, err = bringin.Read("a.xlsx", data)
		require.ErrorContains(t, err, "no workbook that can be read")
	}
}

// The next file with the same columns is brought in as the last was, from the screen and by command, unless that was
// taken back.
func TestAgain(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	_, err := a.BringIn.Know(ctx, "x.csv", []byte("What;Colour\nRamp;red\n"))
	require.ErrorContains(t, err, "No file with these columns")
	take := func(text string) string {
		id, _, err := a.BringIn.Take(demotest.View(t, a, maite), "x.csv", []byte(text))
		require.NoError(t, err)
		return id
	}
	id := take("What;Colour\nRamp;red\n")
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	require.Empty(t, p.Columns[0].Field)
	p.Columns[0].Field, p.Key = "name", "name"
	_, o, err := brought(a, v, id, p)
	require.NoError(t, err)
	require.Equal(t, 1, o.New)
	p, again, err := a.BringIn.Guess(ctx, v, take("What;Colour\nStairs;red\n"), "deals")
	require.NoError(t, err)
	require.True(t, again)
	require.Equal(t, "name", p.Columns[0].Field)
	known, err := a.BringIn.Know(ctx, "night.csv", []byte("What;Colour\nRamp;red\nStairs;blue\n"))
	require.NoError(t, err)
	require.EqualValues(t, maite, known.Person)
	i, o, err := a.BringIn.Again(ctx, demotest.View(t, a, known.Person), known)
	require.NoError(t, err)
	require.Equal(t, []int{1, 0, 1}, []int{o.New, o.Changed, o.Same})
	require.Equal(t, "night.csv", i.File)
	for _, i := range []int64{1, 2} {
		_, err = a.BringIn.Undo(ctx, demotest.View(t, a, maite), i)
		require.NoError(t, err)
	}
	_, again, err = a.BringIn.Guess(ctx, v, take("What;Colour\nStairs;red\n"), "deals")
	require.NoError(t, err)
	require.False(t, again, "what was taken back is no example")
}

// Values that are no choices are listed, so that they can be made choices.
func TestUnknownChoices(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	id, _, err := a.BringIn.Take(v, "x.csv", []byte("Name,Kind\nA,Friend\nB,friend\nC,Foe\n"))
	require.NoError(t, err)
	p, _, err := a.BringIn.Guess(ctx, v, id, "customers")
	require.NoError(t, err)
	o, err := a.BringIn.Try(ctx, v, id, p)
	require.NoError(t, err)
	require.Len(t, o.Refused, 3)
	require.Equal(t, map[string][]string{"kind": {"Friend", "Foe"}}, o.Unknown)
}

// A file that is stopped leaves nothing; one is brought in once at a time, and is nobody else's to see or stop.
func TestStop(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	text := strings.Builder{}
	text.WriteString("Name\n")
	for i := range 50_000 {
		fmt.Fprintf(&text, "Pier %d\n", i)
	}
	id, _, err := a.BringIn.Take(v, "x.csv", []byte(text.String()))
	require.NoError(t, err)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	require.NoError(t, a.BringIn.Start(ctx, v, id, p))
	require.True(t, fault.Is(a.BringIn.Start(ctx, v, id, p), fault.Taken))
	require.True(t, fault.Is(a.BringIn.Stop(demotest.View(t, a, osric), id), fault.NotFound))
	require.NoError(t, a.BringIn.Stop(v, id))
	require.Eventually(t, func() bool {
		now, err := a.BringIn.Progress(v, id)
		return err == nil && now.Phase == bringin.Stopped
	}, 20*time.Second, time.Millisecond)
	n, err := demotest.View(t, a, maite).Snap.Table("deals")
	require.NoError(t, err)
	require.Equal(t, 2600, n.N)
	_, o, err := brought(a, v, id, p)
	require.NoError(t, err, "it can be begun again")
	require.Equal(t, 50_000, o.New)
}

// A column whose form nobody chose is read in the form that its values have, never in another that reads them as well.
func TestFormIsRecognised(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, maite)
	id, _, err := a.BringIn.Take(v, "x.csv", []byte("What;Much\nA;0,5\nB;1.250,75\n"))
	require.NoError(t, err)
	o, err := a.BringIn.Try(ctx, v, id, bringin.Plan{Type: "deals", Columns: []bringin.Column{{Field: "name"}, {Field: "value"}}})
	require.NoError(t, err)
	require.Equal(t, bringin.Comma, o.Columns[1].Form)
	_, _, err = brought(a, v, id, bringin.Plan{Type: "deals", Columns: []bringin.Column{{Field: "name"}, {Field: "value"}}})
	require.NoError(t, err)
	r, err := a.Records.Read(ctx, demotest.View(t, a, maite), "deals", 2601)
	require.NoError(t, err)
	require.Equal(t, "0.50", r.Values["value"])
}

// Days of stages in a file make the history of new deals: what they read is in the line of stages, in funnels and in states
// of earlier days; what cannot be so is refused by its column.
func TestHistoryFromColumns(t *testing.T) {
	a, s := demotest.App(t)
	v := demotest.View(t, a, maite)
	id, sheet, err := a.BringIn.Take(v, "deals.csv", []byte(`Name,Stage,Closed,Created,Enquiry on,Came to design,Offer sent,Ordered on
Old pier,Design,,2026-01-05,2026-01-05,2026-03-02,,
New pier,Ordered,2026-04-20,,2026-02-01,,2026-03-10,
Third pier,,,,,2026-02-10,,
Fourth pier,,,,2026-02-01,,,2026-04-11
Odd pier,Design,,2026-03-10,2026-03-01,,,
Far pier,Design,,,,,2031-01-01,
Torn pier,Design,,,soon,,,
Plain pier,Design,,,,,,
`))
	require.NoError(t, err)
	require.Len(t, sheet.Rows, 8)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	var fields []string
	for _, c := range p.Columns {
		fields = append(fields, c.Field)
	}
	require.Equal(t, []string{"name", "stage", "closed", "created", "stage=Enquiry", "stage=Design", "stage=Offer sent", "stage=Ordered"}, fields)
	out, err := a.BringIn.Try(ctx, v, id, p)
	require.NoError(t, err)
	require.Equal(t, 5, out.New)
	var why []string
	for _, r := range out.Refused {
		why = append(why, fmt.Sprint(r.Line, " ", r.Column, ": ", r.Reason))
	}
	require.Equal(t, []string{
		"6 Enquiry on: it was made later, on 2026-03-10",
		"7 Offer sent: it is still to come",
		"8 Enquiry on: “soon” is no day",
	}, why)
	imported, _, err := brought(a, v, id, p)
	require.NoError(t, err)

	v = demotest.View(t, a, maite)
	of := func(name string) int64 {
		ids := v.Snap.Named("deals", name)
		require.Len(t, ids, 1, name)
		n, err := strconv.ParseInt(ids[0], 10, 64)
		require.NoError(t, err)
		return n
	}
	history := func(name string) (list []string) {
		rows, err := s.ChangesOf(ctx, "deals", of(name), 50)
		require.NoError(t, err)
		for _, c := range rows {
			list = append(list, v.Snap.Cal.FormatInstant(c.At)[:10]+" "+c.Field+" "+c.From+" → "+c.To)
		}
		slices.Sort(list)
		return list
	}
	require.Equal(t, []string{"2026-03-02 stage Enquiry → Design"}, history("Old pier"))
	require.Equal(t, []string{"2026-03-10 stage Enquiry → Offer sent", "2026-04-20 stage Offer sent → Ordered"}, history("New pier"))
	require.Empty(t, history("Third pier"), "it began there")
	require.Empty(t, history("Plain pier"))
	value := func(name, field string) string {
		r, err := s.ReadRecord(ctx, "deals", of(name))
		require.NoError(t, err)
		return r[field]
	}
	require.Equal(t, "Design", value("Third pier", "stage"), "where it came to last")
	require.Equal(t, "2026-04-11", value("Fourth pier", "closed"), "as it came where it ended")
	require.Equal(t, "2026-02-10T00:00:00+00:00", value("Third pier", "created"))
	since, err := v.Snap.Column("deals", "stage_since")
	require.NoError(t, err)
	deals, err := v.Snap.Table("deals")
	require.NoError(t, err)
	require.Equal(t, "2026-03-02", v.Snap.Text(since, since.At(deals.IDs.Row(fmt.Sprint(of("Old pier")))), deals))
	day, err := period.ParseDay("2026-03-31")
	require.NoError(t, err)
	then, err := v.Snap.AsOf(day)
	require.NoError(t, err)
	table, err := then.Table("deals")
	require.NoError(t, err)
	stage, err := then.Column("deals", "stage")
	require.NoError(t, err)
	require.Equal(t, "Offer sent", then.Text(stage, stage.At(table.IDs.Row(fmt.Sprint(of("New pier")))), table), "as it was at the end of March")

	// Brought in again by name, what is there keeps its history; taken back, all of it goes.
	left, err := a.BringIn.Undo(ctx, demotest.View(t, a, maite), imported)
	require.NoError(t, err)
	require.Zero(t, left)
}

// One column can say since when records are where they are.
func TestInStageSince(t *testing.T) {
	a, s := demotest.App(t)
	v := demotest.View(t, a, maite)
	id, _, err := a.BringIn.Take(v, "deals.csv", []byte("Name,Stage,Created,In stage since\nOld pier,Design,2026-01-05,2026-03-02\nNew pier,Design,2026-01-05,2026-01-05\n"))
	require.NoError(t, err)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	require.Equal(t, "stage_since", p.Columns[3].Field)
	_, out, err := brought(a, v, id, p)
	require.NoError(t, err)
	require.Equal(t, 2, out.New)
	v = demotest.View(t, a, maite)
	n, err := strconv.ParseInt(v.Snap.Named("deals", "Old pier")[0], 10, 64)
	require.NoError(t, err)
	rows, err := s.ChangesOf(ctx, "deals", n, 50)
	require.NoError(t, err)
	require.Len(t, rows, 1)
	require.Equal(t, []string{"", "Design"}, []string{rows[0].From, rows[0].To}, "where it was before is not known")
}
