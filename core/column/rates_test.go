package column_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// money is deals, their lines and exchange rates, by type, by id.
type money map[string][]map[string]string

func (m money) Load(_ context.Context, b *column.Builder) error {
	for i, r := range m[b.Type.Key] {
		b.Row(strconv.Itoa(i + 1))
		for k := range b.Type.Fields {
			if err := b.Set(k, r[b.Type.Fields[k].Key]); err != nil {
				return err
			}
		}
	}
	return nil
}

var today = period.Day(2026, 5, 14)

// converted is what a field comes to in each record: "-" where there is no rate.
func converted(t *testing.T, s *column.Snapshot, typ, field string, dates ...string) []string {
	t.Helper()
	c, err := s.Convert(column.Conversion{Type: typ, Field: field, Dates: dates, Day: today})
	require.NoError(t, err)
	table, err := s.Table(typ)
	require.NoError(t, err)
	out, missing := []string{}, 0
	for row := range int32(table.N) {
		text := column.Format(schema.Money, c.At(row), s.Cal)
		if c.Unrated(row) {
			require.Empty(t, text)
			text, missing = "-", missing+1
		}
		out = append(out, text)
	}
	require.Equal(t, missing, c.Missing())
	return out
}

func several(t *testing.T) *schema.Schema {
	t.Helper()
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", Currency: "EUR", Currencies: []string{"NOK", "GBP"}})
	require.NoError(t, err)
	return s
}

func TestConvert(t *testing.T) {
	data := money{
		"exchange_rates": {
			{"currency": "NOK", "day": "2026-05-01", "units": "11.5", "worth": "1"},
			{"currency": "NOK", "day": "2026-03-01", "units": "0", "worth": "1"}, // none
			{"currency": "nok", "day": "2026-03-01", "units": "10", "worth": "1"},
			{"currency": "GBP", "day": "2026-05-20", "units": "1", "worth": "1.2"}, // not yet
			{"currency": "", "day": "2026-03-01", "units": "1", "worth": "1"},
		},
		"deals": {
			{"value": "100.00"},
			{"value": "100.00", "currency": "EUR"},
			{"value": "115.00", "currency": "NOK"},
			{"value": "-115.05", "currency": "nok", "closed": "2026-05-20"}, // rounded away from zero, by today's rate
			{"value": "100.00", "currency": "NOK", "closed": "2026-04-05"},  // on the last day that it holds
			{"value": "100.00", "currency": "NOK", "closed": "2026-04-06"},
			{"value": "100.00", "currency": "NOK", "closed": "2026-02-28"},
			{"value": "100.00", "currency": "GBP"},
			{"value": "100.00", "currency": "XAU"},
			{"currency": "XAU"}, // no amount needs no rate
		},
		"lines": {{"amount": "23.00", "deal": "3"}, {"amount": "23.00"}, {"amount": "10.00", "deal": "5"}, {"amount": "1.00", "deal": "9"}},
	}
	s := column.NewSnapshot(several(t), data)
	require.Equal(t, []string{"100.00", "100.00", "10.00", "-10.00", "10.00", "-", "-", "-", "-", ""}, converted(t, s, "deals", "value", "closed"))
	require.Equal(t, []string{"2.00", "23.00", "1.00", "-"}, converted(t, s, "lines", "amount", "deal.closed"))
	// What people have no amount of, or all in one currency, is the field itself.
	c, err := s.Convert(column.Conversion{Type: "products", Field: "price", Day: today})
	require.NoError(t, err)
	own, err := s.Column("products", "price")
	require.NoError(t, err)
	require.Same(t, own, c.Column)
	_, err = s.Convert(column.Conversion{Type: "deals", Field: "value", Dates: []string{"customer.nothing"}, Day: today})
	require.ErrorContains(t, err, "no field")
}

// What was converted is brought up to date by edits: after any of them it is what it would be, worked out anew.
func TestConvertedIsKept(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	currencies := []string{"", "EUR", "NOK", "GBP", "XAU"}
	amount := func() string { return fmt.Sprintf("%d.%02d", r.IntN(5000), r.IntN(100)) }
	day := func() string {
		if r.IntN(3) == 0 {
			return ""
		}
		return period.FormatDay(today - int32(r.IntN(100)) + 20)
	}
	deal := func() map[string]string {
		return map[string]string{"value": amount(), "likelihood": strconv.Itoa(r.IntN(100)), "currency": currencies[r.IntN(len(currencies))], "closed": day(), "expected_close": day()}
	}
	rate := func() map[string]string {
		return map[string]string{"currency": []string{"NOK", "GBP"}[r.IntN(2)], "day": period.FormatDay(today - int32(r.IntN(120))), "units": strconv.Itoa(1 + r.IntN(12)), "worth": "1"}
	}
	for foreign := range 2 {
		data := money{}
		for range 20 {
			d := deal()
			if foreign == 0 {
				d["currency"] = ""
			}
			data["deals"] = append(data["deals"], d)
			data["lines"] = append(data["lines"], map[string]string{"deal": strconv.Itoa(1 + r.IntN(20)), "amount": amount()})
		}
		for range 8 {
			data["exchange_rates"] = append(data["exchange_rates"], rate())
		}
		s := column.NewSnapshot(several(t), data)
		ask := func(s *column.Snapshot) [][]string {
			return [][]string{
				converted(t, s, "deals", "value", "closed", "expected_close"), converted(t, s, "deals", "weighted"),
				converted(t, s, "lines", "amount", "deal.closed"),
			}
		}
		for range 150 {
			was := ask(s)
			typ := []string{"deals", "deals", "deals", "lines", "exchange_rates"}[r.IntN(5)]
			id := 1 + r.IntN(len(data[typ]))
			values := map[string]map[string]string{"deals": deal(), "lines": {"amount": amount()}, "exchange_rates": rate()}[typ]
			for k := range values {
				if r.IntN(2) == 0 && typ == "deals" {
					delete(values, k)
				}
			}
			made := r.IntN(5) == 0
			if made {
				data[typ] = append(data[typ], map[string]string{})
				id = len(data[typ])
			}
			for k, v := range values {
				data[typ][id-1][k] = v
			}
			next, err := s.Apply([]column.Edit{{Type: typ, ID: strconv.Itoa(id), New: made, Values: values}})
			require.NoError(t, err)
			require.Equal(t, ask(column.NewSnapshot(s.Schema, data)), ask(next), "%s %d %v", typ, id, values)
			require.Equal(t, was, ask(s), "the one before stays as it was")
			s = next
		}
	}
}
