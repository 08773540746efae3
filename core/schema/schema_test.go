package schema_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/schema"
)

func types(added map[string]schema.Addition) schema.Settings { return schema.Settings{Types: added} }

func fields(list map[string]schema.AdditionField) schema.Addition {
	return schema.Addition{Fields: list}
}

// Settings that contradict themselves or the built-in record types are refused in words.
func TestRefusedSettings(t *testing.T) {
	for says, set := range map[string]schema.Settings{
		`timezone "Mars/Olympus"`:                           {Timezone: "Mars/Olympus"},
		`weekStart "Monday" is not a day of the week`:       {WeekStart: "Monday"},
		"fiscalMonth 13":                                    {FiscalMonth: 13},
		"fiscalMonth -1":                                    {FiscalMonth: -1},
		`the name "" is empty`:                              {Stages: []schema.Stage{{Status: "open"}}},
		`the name "Enquiry" is empty or stands twice`:       {Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Enquiry", Status: "won"}}},
		`has the status "gone"; it is open, won or lost`:    {Stages: []schema.Stage{{Name: "Enquiry", Status: "gone"}}},
		`"Berths" is not a key`:                             types(map[string]schema.Addition{"Berths": {}}),
		"deals.value is there already":                      types(map[string]schema.Addition{"deals": fields(map[string]schema.AdditionField{"value": {Kind: schema.Number}})}),
		"deals.activities is there already":                 types(map[string]schema.Addition{"deals": fields(map[string]schema.AdditionField{"activities": {Kind: schema.Number}})}),
		"deals.own is there already or not a key":           types(map[string]schema.Addition{"deals": fields(map[string]schema.AdditionField{"own": {Kind: schema.Number}})}),
		`deals.berth links to "berths", which is no record`: types(map[string]schema.Addition{"deals": fields(map[string]schema.AdditionField{"berth": {Kind: schema.Link, To: "berths"}})}),
		`deals.size has the unknown kind "weight"`:          types(map[string]schema.Addition{"deals": fields(map[string]schema.AdditionField{"size": {Kind: "weight"}})}),
	} {
		_, err := schema.New(set)
		require.ErrorContains(t, err, says)
	}
}

func TestDefaults(t *testing.T) {
	s, err := schema.New(schema.Settings{Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Due", Pipeline: "Renewals", Status: "open"}}})
	require.NoError(t, err)
	require.Equal(t, "UTC", s.Zone.String())
	require.Equal(t, "Pipeline", s.Type("deals").Stages[0].Pipeline, "a stage without a pipeline is in the one there is")
	require.Equal(t, "Renewals", s.Type("deals").Stages[1].Pipeline)
	require.Equal(t, []string{"Enquiry", "Due"}, s.Type("deals").Field("stage").Choices)
	require.Equal(t, "people", s.Readers().Key)
}

// A record type that is added has a number, a name, an owner and the marks of who made it, and is linked both ways.
func TestAddedType(t *testing.T) {
	s, err := schema.New(types(map[string]schema.Addition{
		"berths": {Label: "Berths", One: "berth", Fields: map[string]schema.AdditionField{
			"name": {Kind: schema.Text}, "owner": {Kind: schema.Link, To: "people"}, "customer": {Kind: schema.Link, To: "customers"}, "pays": {Kind: schema.Link, To: "customers"}}},
		"deals": {Fields: map[string]schema.AdditionField{"hull": {Label: "Hull length", Kind: schema.Number, To: "people"}}},
	}))
	require.NoError(t, err)
	berths := s.Type("berths")
	require.True(t, berths.Added)
	require.Equal(t, []string{"name", "owner"}, []string{berths.Name, berths.Owner})
	for _, key := range []string{"id", "created", "changed"} {
		require.NotNil(t, berths.Field(key), key)
	}
	customers := s.Type("customers")
	require.Equal(t, "customer", customers.Back("berths").Via)
	require.Equal(t, "pays", customers.Back("berths_pays").Via, "a second link of the same type back has a key of its own")
	hull := s.Type("deals").Field("hull")
	require.Equal(t, "Hull length", hull.Label)
	require.Empty(t, hull.To, "only links lead somewhere")
	require.Nil(t, s.Type("boats"))
}

func TestKinds(t *testing.T) {
	all := []schema.Kind{schema.ID, schema.Text, schema.Number, schema.Money, schema.Percent, schema.Date, schema.Time, schema.YesNo, schema.Choice, schema.Link}
	count := func(is func(schema.Kind) bool) (n int) {
		for _, k := range all {
			if is(k) {
				n++
			}
		}
		return n
	}
	require.Equal(t, 3, count(schema.Kind.Numeric))
	require.Equal(t, 2, count(schema.Kind.Dated))
	require.Equal(t, 2, count(schema.Kind.Coded))
	require.Equal(t, "yes/no", schema.YesNo.Words())
	require.Equal(t, "a record's number", schema.ID.Words())
	require.Equal(t, "money", schema.Money.Words())
}

// An addition can be written short, as its fields alone.
func TestAdditionForms(t *testing.T) {
	var long, short schema.Addition
	require.NoError(t, json.Unmarshal([]byte(`{"label":"Berths","fields":{"length":{"kind":"number"}}}`), &long))
	require.NoError(t, json.Unmarshal([]byte(`{"length":{"kind":"number"}}`), &short))
	require.Equal(t, long.Fields, short.Fields)
	require.Error(t, json.Unmarshal([]byte(`[]`), &short))
}
