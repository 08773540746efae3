package shape_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/schema"
	"uzzel/internal/admin"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/library"
	"uzzel/internal/records"
	"uzzel/internal/shape"
	"uzzel/internal/store"
)

func lastChange(t *testing.T, a *app.App) admin.Changed {
	t.Helper()
	list, _, err := a.Admin.Changes(ctx, demotest.View(t, a, osric), "Records, fields", 0, 1)
	require.NoError(t, err)
	require.Len(t, list, 1)
	return list[0]
}

func takeBack(t *testing.T, a *app.App) {
	t.Helper()
	c := lastChange(t, a)
	require.True(t, c.Back, c.Why)
	require.NoError(t, a.Admin.TakeBack(ctx, demotest.View(t, a, osric), c.ID))
}

// keptBriefs are all reports as they are kept.
func keptBriefs(t *testing.T, s *store.Store) (list []string) {
	t.Helper()
	require.NoError(t, s.EachBrief(ctx, func(title, text string) { list = append(list, title+" "+text) }))
	return list
}

// What choices were called, and which two became one, is taken back: in records, in their history and in reports.
func TestChoicesAreTakenBack(t *testing.T) {
	a, s := demotest.App(t)
	was, briefs := counted(t, a, "activities", "kind"), keptBriefs(t, s)
	history := func() map[string]string { return counted(t, a, "changes", "from") }
	before := history()
	list := choicesOf(t, a, "activities", "kind")
	for i := range list {
		switch list[i].Name {
		case "Letter":
			list[i].Name = "Email" // two become one
		case "Call":
			list[i].Name = "Phone call"
		}
	}
	require.NoError(t, a.Shape.SetChoices(ctx, demotest.View(t, a, osric), "activities", "kind", list, version(t, a)))
	require.NotEqual(t, was, counted(t, a, "activities", "kind"))
	require.NotEqual(t, briefs, keptBriefs(t, s), "reports ask for calls")
	takeBack(t, a)
	require.Equal(t, was, counted(t, a, "activities", "kind"))
	require.Equal(t, briefs, keptBriefs(t, s))
	require.Equal(t, before, history())
	require.Contains(t, s.Schema().Type("activities").Field("kind").Choices, "Letter")
	require.False(t, lastChange(t, a).Back, "the taking back itself is done again under Fields")
}

// A stage that was added goes back as long as no deal is in it.
func TestStagesAreTakenBack(t *testing.T) {
	a, s := demotest.App(t)
	list := append(stagesOf(demotest.View(t, a, osric)), shape.Stage{Choice: shape.Choice{Name: "On hold"}, Pipeline: "Projects", Status: "open"})
	require.NoError(t, a.Shape.SetStages(ctx, demotest.View(t, a, osric), "deals", list, version(t, a)))
	_, err := a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{{ID: 1, Values: records.Values{"stage": "On hold"}}})
	require.NoError(t, err)
	c := lastChange(t, a)
	require.Equal(t, "1 deal has “On hold”.", c.Why)
	require.ErrorContains(t, a.Admin.TakeBack(ctx, demotest.View(t, a, osric), c.ID), "On hold")
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{{ID: 1, Values: records.Values{"stage": "Enquiry"}}})
	require.NoError(t, err)
	takeBack(t, a)
	require.NotContains(t, s.Schema().Type("deals").Field("stage").Choices, "On hold")
}

// Fields and record types that were taken away come back with what they held; those that were added go back while they
// hold nothing and no report uses them; another kind goes back to the values that there were.
func TestFieldsAreTakenBack(t *testing.T) {
	a, s := demotest.App(t)
	key, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", shape.FieldEdit{Label: "Length", Kind: schema.Text}, version(t, a))
	require.NoError(t, err)
	fill := func(id int64, text string) {
		_, err := a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{{ID: id, Values: records.Values{key: text}}})
		require.NoError(t, err)
	}
	fill(1, "012.50")
	require.Equal(t, "1 deal has a value of Length.", lastChange(t, a).Why)
	require.NoError(t, a.Shape.SetField(ctx, demotest.View(t, a, osric), "deals", key, shape.FieldEdit{Label: "Length", Kind: schema.Number}, version(t, a)))
	read := func() string {
		r, err := s.ReadRecord(ctx, "deals", 1)
		require.NoError(t, err)
		return r[key]
	}
	require.Equal(t, "12.5", read())
	takeBack(t, a)
	require.Equal(t, "012.50", read(), "as it was written")

	changes := counted(t, a, "changes", "field")
	retire(t, a, key)
	require.NoError(t, a.Shape.DropField(ctx, demotest.View(t, a, osric), "deals", key, version(t, a)))
	require.Nil(t, s.Schema().Type("deals").Field(key))
	require.Empty(t, counted(t, a, "changes", "field")[key])
	takeBack(t, a)
	require.Equal(t, "012.50", read())
	require.Equal(t, changes, counted(t, a, "changes", "field"), "with its history")

	berths, err := a.Shape.AddType(ctx, demotest.View(t, a, osric), shape.TypeEdit{Label: "Berths", One: "berth", Owned: true}, version(t, a))
	require.NoError(t, err)
	require.True(t, lastChange(t, a).Back)
	b, err := brief.Decode([]byte(`{"version":1,"start":"berths"}`))
	require.NoError(t, err)
	v := demotest.View(t, a, osric)
	folders, err := a.Library.Folders(ctx, v)
	require.NoError(t, err)
	r, err := a.Library.KeepNew(ctx, v, library.Keep{Title: "All berths", Folder: folders[0].ID, Brief: b})
	require.NoError(t, err)
	require.Contains(t, lastChange(t, a).Why, "All berths")
	require.NoError(t, a.Library.DeleteReport(ctx, v, r.ID))
	_, err = a.Records.Create(ctx, demotest.View(t, a, aldo), berths, []records.Values{{"name": "North 1"}, {"name": "North 2"}})
	require.NoError(t, err)
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), berths, []records.Edit{{ID: 2, Values: records.Values{"name": "North 3"}}})
	require.NoError(t, err)
	require.Equal(t, "It would take 2 berths along.", lastChange(t, a).Why)
	require.NoError(t, a.Shape.DropType(ctx, demotest.View(t, a, osric), berths, version(t, a)))
	takeBack(t, a)
	north, err := s.ReadRecord(ctx, berths, 2)
	require.NoError(t, err)
	require.Equal(t, "North 3", north["name"])
	require.Equal(t, "3", north["owner"])
	rows, err := s.ChangesOf(ctx, berths, 2, 10)
	require.NoError(t, err)
	require.Len(t, rows, 1)
}

// What a field held that was taken away is forgotten after a month, as deleted records are.
func TestWhatWasTakenAwayIsForgotten(t *testing.T) {
	a, s := demotest.App(t)
	key, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", shape.FieldEdit{Label: "Length", Kind: schema.Text}, version(t, a))
	require.NoError(t, err)
	retire(t, a, key)
	require.NoError(t, a.Shape.DropField(ctx, demotest.View(t, a, osric), "deals", key, version(t, a)))
	now := s.Now()
	s.Now = func() time.Time { return now.Add(store.KeepDeleted - time.Hour) }
	require.NoError(t, s.Purge(ctx))
	require.True(t, lastChange(t, a).Back)
	s.Now = func() time.Time { return now.Add(store.KeepDeleted + time.Hour) }
	require.NoError(t, s.Purge(ctx))
	require.Contains(t, lastChange(t, a).Why, "not kept any more")
}
