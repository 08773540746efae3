package shape_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
	"uzzel/internal/lookup"
	"uzzel/internal/people"
	"uzzel/internal/records"
	"uzzel/internal/shape"
	"uzzel/internal/store"
)

// asRole is what aldo would see in a role.
func asRole(t *testing.T, a *app.App, s *store.Store, role string) *answers.View {
	t.Helper()
	account, err := s.Account(ctx, aldo)
	require.NoError(t, err)
	account.Role = role
	require.NoError(t, s.PutAccount(ctx, account))
	return demotest.View(t, a, aldo)
}

// retire has a field offered no more.
func retire(t *testing.T, a *app.App, key string) {
	t.Helper()
	v := demotest.View(t, a, osric)
	f := v.Snap.Schema.Type("deals").Field(key)
	edit := shape.FieldEdit{Label: f.Label, Kind: f.Kind, Retired: true}
	require.NoError(t, a.Shape.SetField(ctx, v, "deals", key, edit, version(t, a)))
}

func decoded(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	return b
}

// A field that is not for someone is nowhere for them: not on the record, in its history, in reports, in the history as
// records, by what is worked out from it, or to be written. Who may see it has all of it.
func TestFieldsThatAreNotForEveryone(t *testing.T) {
	a, s := demotest.App(t)
	admin := func() *answers.View { return demotest.View(t, a, osric) }
	value := func(v *answers.View) string {
		rec, err := a.Records.Read(ctx, v, "deals", 1)
		require.NoError(t, err)
		return rec.Values["value"]
	}
	_, err := a.Records.Change(ctx, admin(), "deals", []records.Edit{{ID: 1, Values: records.Values{"value": "98765.43", "likelihood": "35"}}})
	require.NoError(t, err)
	limit := func(l schema.Limit) {
		require.NoError(t, a.Shape.SetLimit(ctx, admin(), "deals", "value", l, version(t, a)))
	}
	limit(schema.Limit{See: "composers", Change: "administrators"})

	reader := asRole(t, a, s, people.Reader)
	require.Empty(t, value(reader))
	rec, err := lookup.Open(ctx, reader, "deals", "1")
	require.NoError(t, err)
	for _, f := range rec.Fields {
		require.NotContains(t, []string{"value", "weighted"}, f.Field.Key, "nor what is worked out from it")
	}
	line, err := a.Diary.Read(ctx, reader, diary.Ref{Type: "deals", ID: 1}, diary.Asked{What: diary.Changed})
	require.NoError(t, err)
	text, err := json.Marshal(line)
	require.NoError(t, err)
	require.NotContains(t, string(text), "98765")
	require.Contains(t, string(text), "likelihood", "its other changes are told")
	_, err = reader.Ask(ctx, decoded(t, `{"version":1,"start":"deals","summaries":[{"key":"t","fn":"sum","of":"value"}]}`))
	require.ErrorContains(t, err, "not yours to see")
	_, err = reader.Ask(ctx, decoded(t, `{"version":1,"start":"deals","filter":{"field":"weighted","is":"over","values":["5"]}}`))
	require.ErrorContains(t, err, "not yours to see")
	history := decoded(t, `{"version":1,"start":"changes","filter":{"field":"record","is":"any_of","values":["1"]},"columns":[{"field":"record_type"},{"field":"field"},{"field":"to"}]}`)
	told := func(v *answers.View) string {
		list, err := v.List(ctx, history)
		require.NoError(t, err)
		page, err := list.Page(ctx, 0, 1000)
		require.NoError(t, err)
		return fmt.Sprint(page.Texts)
	}
	require.NotContains(t, told(reader), "98765")
	require.Contains(t, told(reader), "likelihood")
	_, err = a.Records.Change(ctx, reader, "deals", []records.Edit{{ID: 1, Values: records.Values{"value": "1"}}})
	require.ErrorContains(t, err, "no field")
	many, err := a.Records.ChangeMany(ctx, reader, "deals", []int64{1}, records.Values{"likelihood": "40"}, false)
	require.NoError(t, err)
	require.Len(t, many.Done.Changed, 1)

	composer := asRole(t, a, s, people.Composer)
	require.Equal(t, "98765.43", value(composer), "who may see it does, and it outlived what others wrote")
	require.Contains(t, told(composer), "98765")
	_, err = a.Records.Change(ctx, composer, "deals", []records.Edit{{ID: 1, Values: records.Values{"value": "1"}}})
	require.ErrorContains(t, err, "not yours to change")
	ids, err := a.Records.Create(ctx, composer, "deals", []records.Values{{"name": "Without"}})
	require.NoError(t, err)
	require.Len(t, ids, 1)

	limit(schema.Limit{})
	require.Equal(t, "98765.43", value(asRole(t, a, s, people.Reader)))
}

// What the program sets beside what was changed is set, and not told, where the field is not for who changed it.
func TestHiddenFieldsAreStillKeptRight(t *testing.T) {
	a, s := demotest.App(t)
	admin := func() *answers.View { return demotest.View(t, a, osric) }
	key, err := a.Shape.AddField(ctx, admin(), "deals", shape.FieldEdit{Label: "Grade", Kind: "text", Default: "B"}, version(t, a))
	require.NoError(t, err)
	for _, field := range []string{"closed", key} {
		require.NoError(t, a.Shape.SetLimit(ctx, admin(), "deals", field, schema.Limit{See: "administrators"}, version(t, a)))
	}
	reader := asRole(t, a, s, people.Reader)
	ids, err := a.Records.Create(ctx, reader, "deals", []records.Values{{"name": "New", "stage": "Enquiry"}})
	require.NoError(t, err)
	many, err := a.Records.ChangeMany(ctx, reader, "deals", ids, records.Values{"stage": "Ordered"}, false)
	require.NoError(t, err)
	require.Len(t, many.Done.Changed, 1, "the day it was closed is not told")
	rec, err := a.Records.Read(ctx, admin(), "deals", ids[0])
	require.NoError(t, err)
	require.NotEmpty(t, rec.Values["closed"])
	require.Equal(t, "B", rec.Values[key])
	for _, field := range []string{"name", "owner", "stage", "created", "status"} {
		err := a.Shape.SetLimit(ctx, admin(), "deals", field, schema.Limit{See: "administrators"}, version(t, a))
		require.True(t, fault.Is(err, fault.Invalid), field)
	}
	require.True(t, fault.Is(a.Shape.SetLimit(ctx, reader, "deals", "value", schema.Limit{}, version(t, a)), fault.Forbidden))
}

// A field that is worked out by a formula is what an own field of a report by the same formula is: of the record itself
// and behind links, listed, in conditions, groups and sums.
func TestFormulaFields(t *testing.T) {
	a, _ := demotest.App(t)
	admin := func() *answers.View { return demotest.View(t, a, osric) }
	formula := `if(status == "won", value * 0.2, value / 3) - first_filled(days(created, closed), 1)`
	key, err := a.Shape.AddField(ctx, admin(), "deals", shape.FieldEdit{Label: "Yield", Kind: "money", Formula: formula}, version(t, a))
	require.NoError(t, err)
	quoted, err := json.Marshal(formula)
	require.NoError(t, err)
	lines := func(text string) [][]string {
		answer, err := admin().Ask(ctx, decoded(t, text))
		require.NoError(t, err)
		return answer.Result.Summary().Rows
	}
	own := fmt.Sprintf(`"own":[{"key":"y","formula":%s}]`, quoted)
	require.Equal(t,
		lines(`{"version":1,"start":"deals",`+own+`,`+fmt.Sprintf(`"filter":{"field":%[1]q,"is":"over","values":["1000.004999"]},"groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"}]}`, "own.y")),
		lines(`{"version":1,"start":"deals",`+fmt.Sprintf(`"filter":{"field":%[1]q,"is":"over","values":["1000"]},"groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"}]}`, key)),
		"money is whole cents, a number six decimals")
	cells := func(text string) [][]string {
		list, err := admin().List(ctx, decoded(t, text))
		require.NoError(t, err)
		page, err := list.Page(ctx, 0, 200)
		require.NoError(t, err)
		return page.Texts
	}
	direct := map[string]string{}
	for _, l := range cells(fmt.Sprintf(`{"version":1,"start":"deals","filter":{"link":"activities","is":"some"},"columns":[{"field":"id"},{"field":%q}],"order":[{"field":"id"}]}`, key)) {
		direct[l[0]] = l[1]
	}
	behind := cells(fmt.Sprintf(`{"version":1,"start":"activities","filter":{"field":"deal","is":"filled"},"columns":[{"field":"deal"},{"field":"deal.%s"}],"order":[{"field":"deal"}]}`, key))
	require.NotEmpty(t, behind)
	for _, l := range behind {
		if want, ok := direct[l[0]]; ok {
			require.Equal(t, want, l[1], "of deal %s", l[0])
		}
	}
	require.Empty(t, lines(fmt.Sprintf(`{"version":1,"start":"activities","filter":{"all":[{"field":"deal","is":"empty"},{"field":"deal.%s","is":"filled"}]},"groups":[{"field":"kind"}]}`, key)),
		"where there is no deal nothing is worked out")
	rec, err := lookup.Open(ctx, admin(), "deals", "1")
	require.NoError(t, err)
	at := slices.IndexFunc(rec.Fields, func(f lookup.RecordField) bool { return f.Field.Key == key })
	require.Contains(t, rec.Fields[at].Text, "€")

	// It is not filled in, and does not read itself.
	_, err = a.Records.Change(ctx, admin(), "deals", []records.Edit{{ID: 1, Values: records.Values{key: "1"}}})
	require.ErrorContains(t, err, "kept by the program")
	again := shape.FieldEdit{Label: "Yield", Kind: "money", Formula: key + " + 1"}
	require.ErrorContains(t, a.Shape.SetField(ctx, admin(), "deals", key, again, version(t, a)), "from itself")
	require.ErrorContains(t, a.Shape.SetField(ctx, admin(), "deals", key, shape.FieldEdit{Label: "Yield", Kind: "money"}, version(t, a)), "either worked out or filled in")
	for _, bad := range []string{"value +", "nothing + 1", "name", `"x"`} {
		_, err := a.Shape.AddField(ctx, admin(), "deals", shape.FieldEdit{Label: "Bad", Kind: "number", Formula: bad}, version(t, a))
		require.True(t, fault.Is(err, fault.Invalid), bad)
	}
	// A field that it reads stays while it does, and of a kind that it can read.
	base, err := a.Shape.AddField(ctx, admin(), "deals", shape.FieldEdit{Label: "Cost", Kind: "number"}, version(t, a))
	require.NoError(t, err)
	_, err = a.Shape.AddField(ctx, admin(), "deals", shape.FieldEdit{Label: "Left", Kind: "number", Formula: "value - " + base}, version(t, a))
	require.NoError(t, err)
	require.ErrorContains(t, a.Shape.DropField(ctx, admin(), "deals", base, version(t, a)), "the formula of Left")
	require.ErrorContains(t, a.Shape.SetField(ctx, admin(), "deals", base, shape.FieldEdit{Label: "Cost", Kind: "date"}, version(t, a)), "The formula of Left")
}

// A formula may read what its reader may not: who sees the outcome is said of the outcome.
func TestFormulasOverHiddenFields(t *testing.T) {
	a, s := demotest.App(t)
	admin := func() *answers.View { return demotest.View(t, a, osric) }
	key, err := a.Shape.AddField(ctx, admin(), "deals", shape.FieldEdit{Label: "Large", Kind: "number", Formula: "if(value > 40000, 1, 0)"}, version(t, a))
	require.NoError(t, err)
	b := decoded(t, fmt.Sprintf(`{"version":1,"start":"deals","summaries":[{"key":"n","fn":"sum","of":%q}]}`, key))
	was, err := admin().Ask(ctx, b)
	require.NoError(t, err)
	require.NoError(t, a.Shape.SetLimit(ctx, admin(), "deals", "value", schema.Limit{See: "administrators"}, version(t, a)))
	now, err := asRole(t, a, s, people.Reader).Ask(ctx, b)
	require.NoError(t, err)
	require.Equal(t, was.Result.Totals().Rows, now.Result.Totals().Rows)
}

// The two values of a yes/no field are called as the organisation calls them: in lists, groups and sentences, which are
// read back.
func TestWordsOfYesAndNo(t *testing.T) {
	a, _ := demotest.App(t)
	admin := func() *answers.View { return demotest.View(t, a, osric) }
	key, err := a.Shape.AddField(ctx, admin(), "customers", shape.FieldEdit{Label: "Contract", Kind: "yesno", Yes: "signed", No: "by word"}, version(t, a))
	require.NoError(t, err)
	_, err = a.Records.Change(ctx, admin(), "customers", []records.Edit{{ID: 1, Values: records.Values{key: "true"}}, {ID: 2, Values: records.Values{key: "false"}}})
	require.NoError(t, err)
	b := decoded(t, fmt.Sprintf(`{"version":1,"start":"customers","filter":{"field":%[1]q,"is":"any_of","values":["true"]},"groups":[{"field":%[1]q}]}`, key))
	answer, err := admin().Ask(ctx, b)
	require.NoError(t, err)
	require.Contains(t, answer.Sentence.String(), "signed")
	require.Equal(t, [][]string{{"true", "1"}}, answer.Result.Summary().Rows, "what is computed stays the same")
	rec, err := lookup.Open(ctx, admin(), "customers", "2")
	require.NoError(t, err)
	at := slices.IndexFunc(rec.Fields, func(f lookup.RecordField) bool { return f.Field.Key == key })
	require.Equal(t, "by word", rec.Fields[at].Text)
	_, err = a.Shape.AddField(ctx, admin(), "customers", shape.FieldEdit{Label: "Odd", Kind: "yesno", Yes: "NO"}, version(t, a))
	require.ErrorContains(t, err, "differently")
}

// A retired field is offered no more; what reads it goes on and says so; then it can go.
func TestRetiredFields(t *testing.T) {
	a, _ := demotest.App(t)
	admin := func() *answers.View { return demotest.View(t, a, osric) }
	edit := shape.FieldEdit{Label: "Grade", Kind: "choice", Choices: []string{"A", "B"}}
	key, err := a.Shape.AddField(ctx, admin(), "deals", edit, version(t, a))
	require.NoError(t, err)
	_, err = a.Records.Change(ctx, admin(), "deals", []records.Edit{{ID: 1, Values: records.Values{key: "A"}}})
	require.NoError(t, err)
	require.ErrorContains(t, a.Shape.DropField(ctx, admin(), "deals", key, version(t, a)), "retired first")
	edit.Retired = true
	require.NoError(t, a.Shape.SetField(ctx, admin(), "deals", key, edit, version(t, a)))
	require.Equal(t, "1", counted(t, a, "deals", key)["A"], "what reads it goes on")
	explained, err := admin().Explain(ctx, decoded(t, fmt.Sprintf(`{"version":1,"start":"deals","groups":[{"field":%q}]}`, key)))
	require.NoError(t, err)
	text, err := json.Marshal(explained.Warnings)
	require.NoError(t, err)
	require.True(t, bytes.Contains(text, []byte("Grade is retired")), string(text))
	require.NoError(t, a.Shape.DropField(ctx, admin(), "deals", key, version(t, a)))
}
