package records_test

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/lookup"
	"uzzel/internal/records"
)

var ctx = context.Background()

const aldo, runa, osric = 3, 4, 2

func change(a *app.App, v *answers.View, id int64, version string, values records.Values) (records.Record, error) {
	list, err := a.Records.Change(ctx, v, "deals", []records.Edit{{ID: id, Version: version, Values: values}})
	if err != nil {
		return records.Record{}, err
	}
	return list[0], nil
}

// text is a value of a record as reports have it.
func text(t *testing.T, v *answers.View, typ string, id int64, field string) string {
	t.Helper()
	rec, err := lookup.Open(t.Context(), v, typ, strconv.FormatInt(id, 10))
	require.NoError(t, err)
	for _, f := range rec.Fields {
		if f.Field.Key == field {
			return f.Text
		}
	}
	return ""
}

func TestCreate(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, aldo)
	ids, err := a.Records.Create(ctx, v, "deals", []records.Values{
		{"name": "Fuel jetty Northmere", "customer": "1", "stage": "enquiry", "value": "1234.5"},
		{"name": "Fuel jetty Southmere", "owner": "4", "stage": "Ordered"},
	})
	require.NoError(t, err)
	require.Equal(t, []int64{2601, 2602}, ids)
	v = demotest.View(t, a, aldo)
	first, err := a.Records.Read(ctx, v, "deals", 2601)
	require.NoError(t, err)
	require.Equal(t, "3", first.Values["owner"], "who makes it owns it")
	require.Equal(t, "3", first.Values["created_by"])
	require.Equal(t, []string{"Enquiry", "1234.50", ""}, []string{first.Values["stage"], first.Values["value"], first.Values["closed"]})
	second, err := a.Records.Read(ctx, v, "deals", 2602)
	require.NoError(t, err)
	require.Equal(t, []string{"4", "2026-05-14"}, []string{second.Values["owner"], second.Values["closed"]}, "it is won today")
	require.Equal(t, "open", text(t, v, "deals", 2601, "status"), "the columns have followed")

	_, err = a.Records.Create(ctx, v, "deals", []records.Values{{"name": "Good"}, {"value": "much", "stage": "Nowhere", "colour": "red", "changed": "2026-01-01T00:00:00"}})
	var wrong records.Refusals
	require.ErrorAs(t, err, &wrong)
	var at []string
	for _, f := range wrong {
		at = append(at, f.Pointer)
	}
	require.Equal(t, []string{"/records/1/changed", "/records/1/colour", "/records/1/name", "/records/1/stage", "/records/1/value"}, at)
	table, err := demotest.View(t, a, aldo).Snap.Table("deals")
	require.NoError(t, err)
	require.Equal(t, 2602, table.N, "all of them or none")
}

// The second of two writers sees what the first changed, and nothing is lost.
func TestTwoWriters(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, aldo)
	read, err := a.Records.Read(ctx, v, "deals", 7)
	require.NoError(t, err)
	_, err = change(a, demotest.View(t, a, runa), 7, read.Version, records.Values{"value": "10"})
	require.NoError(t, err)
	_, err = change(a, v, 7, read.Version, records.Values{"likelihood": "50"})
	var c *records.Conflict
	require.ErrorAs(t, err, &c)
	require.Equal(t, "10.00", c.Now.Values["value"])
	again, err := change(a, v, 7, c.Now.Version, records.Values{"likelihood": "50"})
	require.NoError(t, err)
	require.Equal(t, []string{"10.00", "50"}, []string{again.Values["value"], again.Values["likelihood"]})
	require.NotEqual(t, c.Now.Version, again.Version)
	same, err := change(a, v, 7, again.Version, records.Values{"likelihood": "50"})
	require.NoError(t, err)
	require.Equal(t, again.Version, same.Version, "what changes nothing leaves no trace")
}

// A deal that comes to be won or lost is closed that day, and open again where its stage is.
func TestClosing(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, aldo)
	ids, err := a.Records.Create(ctx, v, "deals", []records.Values{{"name": "A", "stage": "Enquiry"}})
	require.NoError(t, err)
	v = demotest.View(t, a, aldo)
	for _, step := range []struct {
		to   records.Values
		want string
	}{
		{records.Values{"stage": "Not taken up"}, "2026-05-14"},
		{records.Values{"stage": "Ordered", "closed": "2026-05-01"}, "2026-05-01"},
		{records.Values{"stage": "Not taken up"}, "2026-05-01"},
		{records.Values{"stage": "Design"}, ""},
		{records.Values{"value": "3"}, ""},
	} {
		now, err := change(a, v, ids[0], "", step.to)
		require.NoError(t, err)
		require.Equal(t, step.want, now.Values["closed"], "%v", step.to)
	}
}

func TestDeleteAndBringBack(t *testing.T) {
	a, s := demotest.App(t)
	v := demotest.View(t, a, aldo)
	before, err := a.Records.Read(ctx, v, "customers", 1)
	require.NoError(t, err)
	require.NoError(t, a.Records.Delete(ctx, v, "customers", []int64{1}))
	v = demotest.View(t, a, aldo)
	_, err = a.Records.Read(ctx, v, "customers", 1)
	require.True(t, fault.Is(err, fault.NotFound))
	table, err := v.Snap.Table("customers")
	require.NoError(t, err)
	require.Equal(t, 419, table.N)
	ids, err := a.Records.Create(ctx, v, "customers", []records.Values{{"name": "After"}})
	require.NoError(t, err)
	require.Equal(t, int64(421), ids[0])

	other, err := a.Records.Deleted(ctx, demotest.View(t, a, 12), "customers")
	require.NoError(t, err)
	require.Empty(t, other, "neither theirs nor deleted by them")
	require.True(t, fault.Is(a.Records.BringBack(ctx, demotest.View(t, a, 12), "customers", 1), fault.NotFound))
	list, err := a.Records.Deleted(ctx, demotest.View(t, a, osric), "customers")
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.NoError(t, a.Records.BringBack(ctx, demotest.View(t, a, osric), "customers", 1))
	after, err := a.Records.Read(ctx, demotest.View(t, a, aldo), "customers", 1)
	require.NoError(t, err)
	require.Equal(t, before, after, "it is as it was")
	require.NoError(t, s.Purge(ctx))
}

// A number is not given again, though the last record is deleted.
func TestNumbersAreGivenOnce(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, aldo)
	require.NoError(t, a.Records.Delete(ctx, v, "deals", []int64{2600}))
	ids, err := a.Records.Create(ctx, demotest.View(t, a, aldo), "deals", []records.Values{{"name": "New"}})
	require.NoError(t, err)
	require.Equal(t, []int64{2601}, ids)
	require.NoError(t, a.Records.BringBack(ctx, demotest.View(t, a, osric), "deals", 2600))
}

// What a person may not see they cannot read, change, delete or link to, and cannot tell from what is not there.
func TestOnlyWhatOneSees(t *testing.T) {
	a, _ := demotest.App(t)
	require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, osric), "deals", engine.SeesOwn, 0))
	require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, osric), "customers", engine.SeesOwn, 0))
	v := demotest.View(t, a, aldo)
	list, _, err := a.Records.Page(ctx, v, "deals", 0, 1000)
	require.NoError(t, err)
	require.NotEmpty(t, list)
	theirs := int64(0)
	mine := map[int64]bool{}
	for _, r := range list {
		require.Equal(t, "3", r.Values["owner"])
		mine[r.ID] = true
	}
	for id := int64(1); theirs == 0; id++ {
		if !mine[id] {
			theirs = id
		}
	}
	_, err = a.Records.Read(ctx, v, "deals", theirs)
	_, nowhere := a.Records.Read(ctx, v, "deals", 999_999)
	require.EqualError(t, err, nowhere.Error())
	_, err = change(a, v, theirs, "", records.Values{"value": "1"})
	require.True(t, fault.Is(err, fault.NotFound))
	require.True(t, fault.Is(a.Records.Delete(ctx, v, "deals", []int64{theirs}), fault.NotFound))
	seen, _, err := a.Records.Page(ctx, v, "customers", 0, 1000)
	require.NoError(t, err)
	own := map[string]bool{}
	for _, r := range seen {
		own[strconv.FormatInt(r.ID, 10)] = true
	}
	for id := 1; ; id++ {
		if key := strconv.Itoa(id); !own[key] {
			_, err = a.Records.Create(ctx, v, "deals", []records.Values{{"name": "A", "customer": key}})
			require.ErrorContains(t, err, "no record "+key+" that you may see")
			break
		}
	}
}

func TestNothingAboveItself(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, aldo)
	ids, err := a.Records.Create(ctx, v, "customers", []records.Values{{"name": "Top"}, {"name": "Below"}})
	require.NoError(t, err)
	key := func(i int) string { return strconv.FormatInt(ids[i], 10) }
	v = demotest.View(t, a, aldo)
	put := func(id int64, parent string) error {
		_, err := a.Records.Change(ctx, v, "customers", []records.Edit{{ID: id, Values: records.Values{"parent": parent}}})
		return err
	}
	require.ErrorContains(t, put(ids[0], key(0)), "above itself")
	require.NoError(t, put(ids[1], key(0)))
	require.ErrorContains(t, put(ids[0], key(1)), "above itself")
}

func TestNotWrittenHere(t *testing.T) {
	a, _ := demotest.App(t)
	for _, typ := range []string{"people", "teams", "changes", "boats"} {
		_, err := a.Records.Create(ctx, demotest.View(t, a, osric), typ, []records.Values{{"name": "A"}})
		var f *fault.Error
		require.True(t, errors.As(err, &f), typ)
	}
	_, err := a.Records.Create(ctx, demotest.View(t, a, aldo), "deals", make([]records.Values, records.Most+1))
	require.ErrorContains(t, err, "1001")
}

// Makes a deal, and changes it as it was read.
func ExampleRecords_Change() {
	t := &testing.T{}
	a, _ := demotest.App(t)
	ids, err := a.Records.Create(ctx, demotest.View(t, a, aldo), "deals", []records.Values{{"name": "Fuel jetty", "stage": "Design"}})
	if err != nil {
		fmt.Println(err)
		return
	}
	v := demotest.View(t, a, aldo)
	read, _ := a.Records.Read(ctx, v, "deals", ids[0])
	now, err := a.Records.Change(ctx, v, "deals", []records.Edit{{ID: ids[0], Version: read.Version, Values: records.Values{"stage": "ordered"}}})
	fmt.Println(now[0].Values["stage"], now[0].Values["closed"], err)
	// Output: Ordered 2026-05-14 <nil>
}

// A record is changed though what it links to was never looked at: nothing that is read for it waits for the write itself.
func TestChangeBeforeAnythingIsLoaded(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, aldo)
	now, err := change(a, v, 7, "", records.Values{"value": "10"})
	require.NoError(t, err)
	require.NotEmpty(t, now.Values["customer"])
	_, err = change(a, demotest.View(t, a, aldo), 7, "older", records.Values{"value": "11"})
	var c *records.Conflict
	require.ErrorAs(t, err, &c)
	require.Equal(t, now.Values["customer"], c.Now.Values["customer"])
}
