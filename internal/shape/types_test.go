package shape_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/records"
	"uzzel/internal/shape"
	"uzzel/internal/store"
	"uzzel/internal/transfer"
)

// Berths are a record type of one's own: linked to customers, filled, reported on both ways, renamed, taken out and in
// whole, and taken away once nothing uses them.
func TestOwnTypes(t *testing.T) {
	a, s := demotest.App(t)
	key, err := a.Shape.AddType(ctx, demotest.View(t, a, osric), shape.TypeEdit{Label: "berths", One: "Berth", Owned: true}, version(t, a))
	require.NoError(t, err)
	require.Equal(t, "berths", key)
	link, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), key, shape.FieldEdit{Label: "Customer", Kind: "link", To: "customers", Back: "Moorings"}, version(t, a))
	require.NoError(t, err)
	depth, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), key, shape.FieldEdit{Label: "Depth", Kind: "number", Unit: "m", Least: "0", Most: "40", Default: "3.5"}, version(t, a))
	require.NoError(t, err)
	onDeals, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", shape.FieldEdit{Label: "Berth", Kind: "link", To: key}, version(t, a))
	require.NoError(t, err)
	ids, err := a.Records.Create(ctx, demotest.View(t, a, aldo), key, []records.Values{{"name": "North 1", link: "1"}, {"name": "North 2", link: "1", depth: "12"}})
	require.NoError(t, err)
	require.Equal(t, []int64{1, 2}, ids)
	_, err = a.Records.Create(ctx, demotest.View(t, a, aldo), key, []records.Values{{link: "1"}})
	require.ErrorContains(t, err, "Name: it cannot be empty")
	_, err = a.Records.Create(ctx, demotest.View(t, a, aldo), key, []records.Values{{"name": "Deep", depth: "50"}})
	require.ErrorContains(t, err, "Depth")
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{{ID: 1, Values: records.Values{onDeals: "2"}}})
	require.NoError(t, err)
	rec, err := a.Records.Read(ctx, demotest.View(t, a, aldo), key, 1)
	require.NoError(t, err)
	require.Equal(t, "3.5", rec.Values[depth], "what a new one begins with")
	require.Equal(t, "3", rec.Values["owner"], "who makes it owns it")
	require.Equal(t, "1", counted(t, a, "deals", onDeals)["North 2"])
	byCustomer := counted(t, a, key, link)
	require.Len(t, byCustomer, 1)
	for _, n := range byCustomer {
		require.Equal(t, "2", n)
	}
	require.Equal(t, "Moorings", s.Schema().Type("customers").Back(key).Label)

	err = a.Shape.SetField(ctx, demotest.View(t, a, osric), key, "name", shape.FieldEdit{Label: "Name", Kind: "number"}, version(t, a))
	require.ErrorContains(t, err, "stays a text")
	// What people may see holds for them as for all records.
	require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, osric), key, engine.SeesOwn, 0))
	_, err = a.Records.Read(ctx, demotest.View(t, a, 4), key, 1)
	require.True(t, fault.Is(err, fault.NotFound))
	require.ErrorContains(t, a.Shape.DropField(ctx, demotest.View(t, a, osric), key, "owner", version(t, a)), "goes by their owner")

	dir := filepath.Join(t.TempDir(), "out")
	was, err := transfer.Out(ctx, s, dir)
	require.NoError(t, err)
	require.Contains(t, was, transfer.Counted{Type: key, N: 2})
	other, err := store.Open(filepath.Join(t.TempDir(), "in.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, other.Close()) }()
	in, err := transfer.In(ctx, other, dir)
	require.NoError(t, err)
	require.Equal(t, was, in)
	moved, err := other.ReadRecord(ctx, key, 2)
	require.NoError(t, err)
	require.Equal(t, "12", moved[depth])

	require.NoError(t, a.Shape.SetType(ctx, demotest.View(t, a, osric), key, shape.TypeEdit{Label: "Moorings", One: "mooring"}, version(t, a)))
	require.Equal(t, "Moorings", s.Schema().Type(key).Label)
	err = a.Shape.SetType(ctx, demotest.View(t, a, osric), key, shape.TypeEdit{Label: "Deals", One: "mooring"}, version(t, a))
	require.ErrorContains(t, err, "called so already")
	require.True(t, fault.Is(a.Shape.SetType(ctx, demotest.View(t, a, aldo), key, shape.TypeEdit{Label: "X", One: "x"}, 0), fault.Forbidden))

	require.ErrorContains(t, a.Shape.DropType(ctx, demotest.View(t, a, osric), key, version(t, a)), "Deals › Berth")
	retire(t, a, onDeals)
	require.NoError(t, a.Shape.DropField(ctx, demotest.View(t, a, osric), "deals", onDeals, version(t, a)))
	v := demotest.View(t, a, osric)
	b, err := brief.Decode([]byte(`{"version":1,"start":"berths"}`))
	require.NoError(t, err)
	folders, err := a.Library.Folders(ctx, v)
	require.NoError(t, err)
	r, err := a.Library.KeepNew(ctx, v, library.Keep{Title: "All berths", Folder: folders[0].ID, Brief: b})
	require.NoError(t, err)
	require.ErrorContains(t, a.Shape.DropType(ctx, demotest.View(t, a, osric), key, version(t, a)), "“All berths”")
	require.NoError(t, a.Library.DeleteReport(ctx, v, r.ID))
	require.ErrorContains(t, a.Shape.DropType(ctx, demotest.View(t, a, osric), "deals", version(t, a)), "come with the program")
	require.NoError(t, a.Shape.DropType(ctx, demotest.View(t, a, osric), key, version(t, a)))
	require.Nil(t, s.Schema().Type(key))
	require.Nil(t, s.Schema().Type("customers").Back(key))
}

// No two records have the same value of a unique field, whether they were there, come together or are changed.
func TestUnique(t *testing.T) {
	a, _ := demotest.App(t)
	key, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "customers", shape.FieldEdit{Label: "Account", Kind: "text", Unique: true}, version(t, a))
	require.NoError(t, err)
	v := demotest.View(t, a, aldo)
	_, err = a.Records.Change(ctx, v, "customers", []records.Edit{{ID: 1, Values: records.Values{key: "A1"}}})
	require.NoError(t, err)
	_, err = a.Records.Change(ctx, v, "customers", []records.Edit{{ID: 1, Values: records.Values{key: "A1"}}})
	require.NoError(t, err, "its own value is no other's")
	_, err = a.Records.Change(ctx, v, "customers", []records.Edit{{ID: 2, Values: records.Values{key: "A1"}}})
	require.ErrorContains(t, err, "another customer has “A1”")
	_, err = a.Records.Create(ctx, v, "customers", []records.Values{{"name": "X", key: "A2"}, {"name": "Y", key: "A2"}})
	require.ErrorContains(t, err, "two of them have “A2”")
	plain, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "customers", shape.FieldEdit{Label: "Code", Kind: "text"}, version(t, a))
	require.NoError(t, err)
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), "customers", []records.Edit{{ID: 1, Values: records.Values{plain: "C"}}, {ID: 2, Values: records.Values{plain: "C"}}})
	require.NoError(t, err)
	err = a.Shape.SetField(ctx, demotest.View(t, a, osric), "customers", plain, shape.FieldEdit{Label: "Code", Kind: "text", Unique: true}, version(t, a))
	require.ErrorContains(t, err, "1 value of Code are on more than one record")
}

// A field changes its kind where all values fit; where they do not, it says how many and which.
func TestChangeOfKind(t *testing.T) {
	a, s := demotest.App(t)
	key, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", shape.FieldEdit{Label: "Length", Kind: "text"}, version(t, a))
	require.NoError(t, err)
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{{ID: 1, Values: records.Values{key: "12.50"}}, {ID: 2, Values: records.Values{key: "long"}}})
	require.NoError(t, err)
	to := func(e shape.FieldEdit) error {
		e.Label = "Length"
		return a.Shape.SetField(ctx, demotest.View(t, a, osric), "deals", key, e, version(t, a))
	}
	require.ErrorContains(t, to(shape.FieldEdit{Kind: "number"}), "1 record has no number: “long”. Change them first.")
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{{ID: 2, Values: records.Values{key: "7"}}})
	require.NoError(t, err)
	require.NoError(t, to(shape.FieldEdit{Kind: "number", Unit: "m"}))
	require.Equal(t, "number", string(s.Schema().Type("deals").Field(key).Kind))
	rec, err := a.Records.Read(ctx, demotest.View(t, a, aldo), "deals", 1)
	require.NoError(t, err)
	require.Equal(t, "12.5", rec.Values[key])
	require.NoError(t, to(shape.FieldEdit{Kind: "choice"}))
	require.Equal(t, []string{"12.5", "7"}, s.Schema().Type("deals").Field(key).Choices)
	require.Equal(t, "1", counted(t, a, "deals", key)["7"])
	require.ErrorContains(t, to(shape.FieldEdit{Kind: "date"}), "2 records have no date")
	require.ErrorContains(t, to(shape.FieldEdit{Kind: "link", To: "customers"}), "made anew")
}

// What a field says of itself must agree with itself.
func TestFieldsThatContradictThemselves(t *testing.T) {
	a, _ := demotest.App(t)
	for says, e := range map[string]shape.FieldEdit{
		"“x” is no number":       {Label: "New", Kind: "number", Least: "x"},
		"which records":          {Label: "New", Kind: "link", To: "nothing"},
		"one to six words":       {Label: "New", Kind: "date", Phrase: "{due}"},
		"says Expected close so": {Label: "New", Kind: "date", Phrase: "Expected to close"},
		"could not both begin":   {Label: "New", Kind: "text", Unique: true, Default: "x"},
		"A text is any":          {Label: "New", Kind: "text", Format: "zip"},
		"none of the choices":    {Label: "New", Kind: "choice", Choices: []string{"a"}, Default: "b"},
		"is no e-mail address":   {Label: "New", Kind: "text", Format: "email", Default: "b"},
		"at most 500 characters": {Label: "New", Kind: "text", Description: string(make([]byte, 501))},
		"at most 20 characters":  {Label: "New", Kind: "number", Unit: "metres over the datum of Lowmere"},
	} {
		_, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", e, version(t, a))
		require.ErrorContains(t, err, says)
	}
}
