package shape_test

import (
	"context"
	"fmt"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/records"
	"uzzel/internal/shape"
	"uzzel/internal/store"
)

var ctx = context.Background()

const osric, aldo = 2, 3

// counted is how many records of a type have each value of a field, by a report.
func counted(t *testing.T, a *app.App, typ, field string) map[string]string {
	t.Helper()
	v := demotest.View(t, a, osric)
	b, err := brief.Decode([]byte(fmt.Sprintf(`{"version":1,"start":%q,"groups":[{"field":%q}]}`, typ, field)))
	require.NoError(t, err)
	answer, err := v.Ask(ctx, b)
	require.NoError(t, err)
	out := map[string]string{}
	for _, line := range answer.Result.Summary().Rows {
		out[line[0]] = line[1]
	}
	return out
}

func version(t *testing.T, a *app.App) int {
	t.Helper()
	n, err := a.Shape.Version(ctx)
	require.NoError(t, err)
	return n
}

func choicesOf(t *testing.T, a *app.App, typ, field string) []shape.Choice {
	t.Helper()
	list, err := a.Shape.Of(demotest.View(t, a, osric), typ)
	require.NoError(t, err)
	for _, f := range list {
		if f.Field.Key == field {
			return f.Choices
		}
	}
	return nil
}

// What a panel is narrowed to by itself follows a stage that is called otherwise, on the dashboard and in what it was.
func TestStagesOfPanels(t *testing.T) {
	a, s := demotest.App(t)
	v := demotest.View(t, a, osric)
	boards, err := a.Library.Boards(ctx, v)
	require.NoError(t, err)
	options := `{"where":{"version":1,"start":"deals","filter":{"all":[{"field":"stage","is":"any_of","values":["Design"]}]}}}`
	_, err = a.Boards.Place(ctx, v, boards[0].ID, store.Panel{Report: boards[0].Panels[0].Report, W: 4, H: 4, Options: options})
	require.NoError(t, err)
	v = demotest.View(t, a, osric)
	list := stagesOf(v)
	for i := range list {
		if list[i].Name == "Design" {
			list[i].Name = "Drawing up"
		}
	}
	require.NoError(t, a.Shape.SetStages(ctx, v, "deals", list, version(t, a)))
	after, err := s.Board(ctx, v.Who.Viewer(), boards[0].ID)
	require.NoError(t, err)
	last := after.Panels[len(after.Panels)-1].Options
	require.Contains(t, last, `"Drawing up"`)
	require.NotContains(t, last, "Design")
	versions, err := a.Boards.Versions(ctx, demotest.View(t, a, osric), boards[0].ID)
	require.NoError(t, err)
	was := versions[0].Layout.Panels
	require.Contains(t, was[len(was)-1].Options, `"Drawing up"`)
}

// A kind of activity is called otherwise, two become one, and a new one is there; records, history and reports follow.
func TestChoices(t *testing.T) {
	a, s := demotest.App(t)
	was := counted(t, a, "activities", "kind")
	list := choicesOf(t, a, "activities", "kind")
	var next []shape.Choice
	for _, c := range list {
		require.Equal(t, was[c.Name], fmt.Sprint(c.Uses), c.Name)
		switch c.Name {
		case "Site visit":
			c.Name = "Visit on site"
		case "Letter":
			c.Name = "Email"
		}
		next = append(next, c)
	}
	next = append(next, shape.Choice{Name: " Open  day "})
	admin := demotest.View(t, a, osric)
	require.NoError(t, a.Shape.SetChoices(ctx, admin, "activities", "kind", next, version(t, a)))
	is := counted(t, a, "activities", "kind")
	require.Equal(t, was["Site visit"], is["Visit on site"])
	require.Empty(t, is["Site visit"])
	sum := func(a, b string) string {
		x, err := strconv.Atoi(a)
		require.NoError(t, err)
		y, err := strconv.Atoi(b)
		require.NoError(t, err)
		return strconv.Itoa(x + y)
	}
	require.Equal(t, sum(was["Email"], was["Letter"]), is["Email"])
	require.Contains(t, s.Schema().Type("activities").Field("kind").Choices, "Open day")
	require.NotContains(t, s.Schema().Type("activities").Field("kind").Choices, "Letter")
	require.NoError(t, s.EachBrief(ctx, func(title, text string) {
		require.NotContains(t, text, `"Site visit"`, title)
	}))
	_, err := a.Records.Create(ctx, demotest.View(t, a, aldo), "activities", []records.Values{{"kind": "open day", "subject": "Boats"}})
	require.NoError(t, err, "it is there at once")
	require.Equal(t, "1", counted(t, a, "activities", "kind")["Open day"])

	require.True(t, fault.Is(a.Shape.SetChoices(ctx, admin, "activities", "kind", next, 0), fault.Stale), "who read it before")
	err = a.Shape.SetChoices(ctx, demotest.View(t, a, osric), "activities", "kind", choicesOf(t, a, "activities", "kind")[1:], version(t, a))
	require.ErrorContains(t, err, "records have “Call”")
	require.True(t, fault.Is(a.Shape.SetChoices(ctx, demotest.View(t, a, aldo), "activities", "kind", next, version(t, a)), fault.Forbidden))
}

// Two choices can change places: each is called what the other was.
func TestChoicesChangePlaces(t *testing.T) {
	a, _ := demotest.App(t)
	was := counted(t, a, "customers", "kind")
	list := choicesOf(t, a, "customers", "kind")
	list[0].Name, list[1].Name = list[1].Name, list[0].Name
	require.NoError(t, a.Shape.SetChoices(ctx, demotest.View(t, a, osric), "customers", "kind", list, version(t, a)))
	is := counted(t, a, "customers", "kind")
	require.Equal(t, was["Prospect"], is["Customer"])
	require.Equal(t, was["Customer"], is["Prospect"])
}

func stagesOf(v *answers.View) []shape.Stage {
	var list []shape.Stage
	for _, s := range v.Snap.Schema.Settings.Stages {
		list = append(list, shape.Stage{Choice: shape.Choice{Name: s.Name, Was: s.Name}, Pipeline: s.Pipeline, Status: s.Status, Likelihood: s.Likelihood})
	}
	return list
}

func TestStages(t *testing.T) {
	a, s := demotest.App(t)
	was := counted(t, a, "deals", "stage")
	v := demotest.View(t, a, osric)
	list := stagesOf(v)
	list[1].Name, list[1].Likelihood = "Enquiry", 30 // the survey goes into the enquiry
	list[2].Name = "Drawing"
	list = append(list, shape.Stage{Choice: shape.Choice{Name: "On hold"}, Pipeline: "Projects", Status: "open", Likelihood: 5})
	require.NoError(t, a.Shape.SetStages(ctx, v, "deals", list, version(t, a)))
	is := counted(t, a, "deals", "stage")
	require.Equal(t, was["Design"], is["Drawing"])
	require.Empty(t, is["Site survey"])
	require.Equal(t, "On hold", s.Schema().Settings.Stages[len(s.Schema().Settings.Stages)-1].Name)
	bad := stagesOf(demotest.View(t, a, osric))
	bad[0].Status = "maybe"
	require.ErrorContains(t, a.Shape.SetStages(ctx, demotest.View(t, a, osric), "deals", bad, version(t, a)), "open, won or lost")
	bad[0].Status, bad[0].Likelihood = "open", 120
	require.ErrorContains(t, a.Shape.SetStages(ctx, demotest.View(t, a, osric), "deals", bad, version(t, a)), "from 0 to 100")
	require.ErrorContains(t, a.Shape.SetStages(ctx, demotest.View(t, a, osric), "deals", bad[:0], version(t, a)), "at least one stage")
}

// A field of one's own is there at once in records, reports, conditions and files; it is renamed, and taken away once no
// report uses it.
func TestOwnFields(t *testing.T) {
	a, s := demotest.App(t)
	v := demotest.View(t, a, osric)
	key, err := a.Shape.AddField(ctx, v, "deals", shape.FieldEdit{Label: "boat length (m)", Kind: "number"}, version(t, a))
	require.NoError(t, err)
	require.Equal(t, "boat_length_m", key)
	colour, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", shape.FieldEdit{Label: "Hull", Kind: "choice", Choices: []string{"Steel", "Wood"}}, version(t, a))
	require.NoError(t, err)
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{
		{ID: 1, Values: records.Values{key: "12.5", colour: "steel"}}, {ID: 2, Values: records.Values{colour: "Wood"}}})
	require.NoError(t, err)
	require.Equal(t, "1", counted(t, a, "deals", colour)["Steel"])
	_, err = a.Records.Change(ctx, demotest.View(t, a, aldo), "deals", []records.Edit{{ID: 3, Values: records.Values{colour: "Ice"}}})
	require.ErrorContains(t, err, "Steel, Wood")

	list := choicesOf(t, a, "deals", colour)
	list[0].Name = "Iron"
	require.NoError(t, a.Shape.SetChoices(ctx, demotest.View(t, a, osric), "deals", colour, list, version(t, a)))
	require.Equal(t, "1", counted(t, a, "deals", colour)["Iron"], "in added fields too")
	require.NoError(t, a.Shape.SetField(ctx, demotest.View(t, a, osric), "deals", key, shape.FieldEdit{Label: "Length"}, version(t, a)))
	require.Equal(t, "Length", s.Schema().Type("deals").Field(key).Label)

	used, err := a.Shape.UsedBy(ctx, demotest.View(t, a, osric), "deals", colour)
	require.NoError(t, err)
	require.Empty(t, used)
	retire(t, a, colour)
	require.NoError(t, a.Shape.DropField(ctx, demotest.View(t, a, osric), "deals", colour, version(t, a)))
	require.Nil(t, s.Schema().Type("deals").Field(colour))
	rec, err := a.Records.Read(ctx, demotest.View(t, a, aldo), "deals", 1)
	require.NoError(t, err)
	require.Equal(t, "12.5", rec.Values[key], "the other stays")

	for says, e := range map[string]shape.FieldEdit{
		"already":         {Label: "value", Kind: "money"},
		"what kind":       {Label: "New", Kind: "id"},
		"Name the field":  {Label: " ", Kind: "text"},
		"Name each":       {Label: "New", Kind: "choice", Choices: []string{"a", " "}},
		"in other letter": {Label: "New", Kind: "choice", Choices: []string{"a", "A"}},
	} {
		_, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", e, version(t, a))
		require.ErrorContains(t, err, says)
	}
}

// A field that a report uses is not taken away; its title says where.
func TestUsedFieldsStay(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, osric)
	key, err := a.Shape.AddField(ctx, v, "customers", shape.FieldEdit{Label: "Tier", Kind: "choice", Choices: []string{"A", "B"}}, version(t, a))
	require.NoError(t, err)
	v = demotest.View(t, a, osric)
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","groups":[{"field":"customer.` + key + `"}]}`))
	require.NoError(t, err)
	folders, err := a.Library.Folders(ctx, v)
	require.NoError(t, err)
	_, err = a.Library.KeepNew(ctx, v, library.Keep{Title: "Deals by tier", Folder: folders[0].ID, Brief: b})
	require.NoError(t, err)
	used, err := a.Shape.UsedBy(ctx, v, "customers", key)
	require.NoError(t, err)
	require.Equal(t, []string{"Deals by tier"}, used)
	require.ErrorContains(t, a.Shape.DropField(ctx, v, "customers", key, version(t, a)), "“Deals by tier”")
}

// Adds a field of one's own to deals.
func ExampleShape_AddField() {
	t := &testing.T{}
	a, s := demotest.App(t)
	key, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", shape.FieldEdit{Label: "Quay side", Kind: "choice", Choices: []string{"North", "South"}}, 0)
	f := s.Schema().Type("deals").Field(key)
	fmt.Println(key, f.Label, f.Choices, err)
	// Output: quay_side Quay side [North South] <nil>
}

// The colours of choices hold on every chart, follow a choice that is called otherwise, and go with their field.
func TestColoursOfChoices(t *testing.T) {
	a, _ := demotest.App(t)
	colours := func() map[string]string {
		return demotest.View(t, a, osric).Looks.House.Values["activities.kind"]
	}
	set := func(list []shape.Choice) error {
		return a.Shape.SetChoices(ctx, demotest.View(t, a, osric), "activities", "kind", list, version(t, a))
	}
	list := choicesOf(t, a, "activities", "kind")
	require.Equal(t, "Call", list[0].Name)
	list[0].Colour = "red"
	require.ErrorContains(t, set(list), "Of “Call”")
	list[0].Colour = "#7a3e9d"
	require.NoError(t, set(list))
	require.Equal(t, map[string]string{"Call": "#7A3E9D"}, colours())
	list = choicesOf(t, a, "activities", "kind")
	require.Equal(t, "#7A3E9D", list[0].Colour)
	list[0].Name = "Phone call"
	require.NoError(t, set(list))
	require.Equal(t, map[string]string{"Phone call": "#7A3E9D"}, colours())
	list[0].Was, list[0].Colour = "Phone call", ""
	require.NoError(t, set(list))
	require.Empty(t, colours())

	key, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "deals", shape.FieldEdit{Label: "Sort", Kind: "choice", Choices: []string{"A"}}, version(t, a))
	require.NoError(t, err)
	require.NoError(t, a.Shape.SetChoices(ctx, demotest.View(t, a, osric), "deals", key, []shape.Choice{{Name: "A", Was: "A", Colour: "#7A3E9D"}}, version(t, a)))
	require.NoError(t, a.Shape.DropField(ctx, demotest.View(t, a, osric), "deals", key, version(t, a)))
	style := demotest.View(t, a, osric).Looks.House
	require.NoError(t, style.Check(demotest.View(t, a, osric).Snap.Schema), "the style can be saved as it is")
}
