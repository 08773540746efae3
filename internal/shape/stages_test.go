package shape_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/schema"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
	"uzzel/internal/records"
	"uzzel/internal/shape"
	"uzzel/internal/store"
	"uzzel/internal/transfer"
)

// Records of one's own go through stages as deals do: with status, pipeline, when they came there and when they closed,
// with a way that is told, with steps of a funnel, and with what moved among them.
func TestStagesOfOnesOwn(t *testing.T) {
	a, s := demotest.App(t)
	key, err := a.Shape.AddType(ctx, demotest.View(t, a, osric), shape.TypeEdit{Label: "Berths", One: "berth", Icon: "berth", Owned: true}, version(t, a))
	require.NoError(t, err)
	set := func(list ...shape.Stage) error {
		return a.Shape.SetStages(ctx, demotest.View(t, a, osric), key, list, version(t, a))
	}
	stage := func(name, was, status string) shape.Stage {
		return shape.Stage{Choice: shape.Choice{Name: name, Was: was}, Status: status}
	}
	require.ErrorContains(t, set(), "at least one stage")
	require.NoError(t, set(stage("Free", "", "open"), stage("Held", "", "open"), stage("Let", "", "won"), stage("Given up", "", "lost")))
	typ := s.Schema().Type(key)
	require.Equal(t, "berth", typ.Icon)
	require.Equal(t, []string{"Free", "Held", "Let", "Given up"}, typ.Field("stage").Choices)
	for _, field := range []string{"status", "pipeline", "closed", "stage_since", "days_in_stage", "cycle_days"} {
		require.NotNil(t, typ.Field(field), field)
	}
	for _, field := range []string{"value", "weighted", "likelihood", "expected_close"} {
		require.Nil(t, typ.Field(field), field)
	}
	require.Contains(t, s.Schema().Type("deals").Field("stage").Choices, "Enquiry", "deals have theirs")

	v := demotest.View(t, a, aldo)
	ids, err := a.Records.Create(ctx, v, key, []records.Values{{"name": "North 1", "stage": "Free"}, {"name": "North 2", "stage": "Held"}, {"name": "North 3"}})
	require.NoError(t, err)
	_, err = a.Records.Create(ctx, v, key, []records.Values{{"name": "North 4", "stage": "Enquiry"}})
	require.ErrorContains(t, err, "Stage", "a stage of deals")
	move := func(id int64, to string) records.Record {
		_, err := a.Records.Change(ctx, demotest.View(t, a, aldo), key, []records.Edit{{ID: id, Values: records.Values{"stage": to}}})
		require.NoError(t, err)
		r, err := a.Records.Read(ctx, demotest.View(t, a, aldo), key, id)
		require.NoError(t, err)
		return r
	}
	require.Empty(t, move(ids[0], "Held").Values["closed"])
	require.NotEmpty(t, move(ids[0], "Let").Values["closed"], "it is closed as it is won")
	require.Empty(t, move(ids[0], "Held").Values["closed"], "and open again")
	require.NotEmpty(t, move(ids[0], "Let").Values["closed"])
	require.Equal(t, map[string]string{"won": "1", "open": "1"}, filled(counted(t, a, key, "status")))

	way, err := a.Diary.Stages(ctx, demotest.View(t, a, aldo), diary.Ref{Type: key, ID: ids[0]})
	require.NoError(t, err)
	require.Equal(t, "stage", way.Field)
	require.Len(t, way.Steps, 4)
	require.NotEmpty(t, way.Steps[0].Since, "it began at Free, which its history alone says")
	require.True(t, way.Steps[2].Now)

	// Both stood at Held, and one of them went on; the third never had a stage.
	b, err := brief.Decode([]byte(`{"version":1,"start":"berths","groups":[{"field":"stage"}]}`))
	require.NoError(t, err)
	v = demotest.View(t, a, osric)
	bound, err := brief.Bind(b, v.Snap.Schema)
	require.NoError(t, err)
	steps, err := engine.OnwardByStage(ctx, v.Snap, bound, engine.Options{Today: v.Day})
	require.NoError(t, err)
	require.Equal(t, map[string]engine.Onward{"Free": {Stood: 1, Went: 1}, "Held": {Stood: 2, Went: 1}}, steps)

	// Renamed, it is so in records and in history; taken out and in again, all is as it was.
	require.NoError(t, set(stage("Free", "Free", "open"), stage("Reserved", "Held", "open"), stage("Let", "Let", "won"), stage("Given up", "Given up", "lost")))
	require.Equal(t, "1", counted(t, a, key, "stage")["Reserved"])
	dir := filepath.Join(t.TempDir(), "out")
	was, err := transfer.Out(ctx, s, dir)
	require.NoError(t, err)
	other, err := store.Open(filepath.Join(t.TempDir(), "in.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, other.Close()) }()
	in, err := transfer.In(ctx, other, dir)
	require.NoError(t, err)
	require.Equal(t, was, in)
	require.Equal(t, typ.Fields[len(typ.Fields)-1], other.Schema().Type(key).Fields[len(typ.Fields)-1])
	require.Equal(t, "Reserved", other.Schema().Type(key).Stages[1].Name)
	moved, err := other.ReadRecord(ctx, key, ids[1])
	require.NoError(t, err)
	require.Equal(t, "Reserved", moved["stage"])

	// What records are in stays; without any, stages are taken away with their columns, and can be given again.
	require.ErrorContains(t, set(stage("Free", "Free", "open")), "records have")
	for _, id := range ids {
		_, err := a.Records.Change(ctx, demotest.View(t, a, aldo), key, []records.Edit{{ID: id, Values: records.Values{"stage": ""}}})
		require.NoError(t, err)
	}
	require.NoError(t, set())
	require.Nil(t, s.Schema().Type(key).Field("closed"))
	require.NoError(t, set(stage("Open", "", "open")))
	require.Equal(t, map[string]string{"(blank)": "3"}, counted(t, a, key, "stage"))
	require.True(t, fault.Is(a.Shape.SetStages(ctx, demotest.View(t, a, aldo), key, nil, 0), fault.Forbidden))
	require.ErrorContains(t, a.Shape.SetStages(ctx, demotest.View(t, a, osric), "customers", []shape.Stage{stage("A", "", "open")}, version(t, a)), "without stages")
}

func filled(by map[string]string) map[string]string {
	delete(by, "(blank)")
	return by
}

// A field of the same key is in the way of stages, and said so.
func TestStagesInTheWay(t *testing.T) {
	a, _ := demotest.App(t)
	key, err := a.Shape.AddType(ctx, demotest.View(t, a, osric), shape.TypeEdit{Label: "Berths", One: "berth"}, version(t, a))
	require.NoError(t, err)
	_, err = a.Shape.AddField(ctx, demotest.View(t, a, osric), key, shape.FieldEdit{Label: "Status", Kind: schema.Text}, version(t, a))
	require.NoError(t, err)
	err = a.Shape.SetStages(ctx, demotest.View(t, a, osric), key, []shape.Stage{{Choice: shape.Choice{Name: "Free"}, Status: "open"}}, version(t, a))
	require.ErrorContains(t, err, "have a field “Status” of their own")
}

// Record types are offered in the order that is set; those that it leaves out come after, as they did.
func TestRail(t *testing.T) {
	a, s := demotest.App(t)
	key, err := a.Shape.AddType(ctx, demotest.View(t, a, osric), shape.TypeEdit{Label: "Berths", One: "berth"}, version(t, a))
	require.NoError(t, err)
	require.Equal(t, []string{"customers", "contacts", "deals", "activities", "products", key}, s.Schema().Rail)
	set := func(order ...string) error {
		return a.Shape.SetRail(ctx, demotest.View(t, a, osric), order, version(t, a))
	}
	require.NoError(t, set(key, "deals"))
	require.Equal(t, []string{key, "deals", "customers", "contacts", "activities", "products"}, s.Schema().Rail)
	require.ErrorContains(t, set("deals", "deals"), "twice")
	require.ErrorContains(t, set("people"), "offered")
	require.True(t, fault.Is(a.Shape.SetRail(ctx, demotest.View(t, a, aldo), nil, 0), fault.Forbidden))
	require.NoError(t, a.Shape.DropType(ctx, demotest.View(t, a, osric), key, version(t, a)))
	require.Equal(t, "deals", s.Schema().Rail[0])
	require.ErrorContains(t, a.Shape.SetType(ctx, demotest.View(t, a, osric), "deals", shape.TypeEdit{Label: "Deals", One: "deal", Icon: "spaceship"}, version(t, a)), "no such drawing")
}
