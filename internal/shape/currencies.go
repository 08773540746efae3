package shape

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/store"
)

// mostCurrencies are how many currencies amounts may be in besides the organisation's.
const mostCurrencies = 40

// Currencies are those that amounts may be in.
type Currencies struct {
	Own    string // the organisation's
	Others []Foreign
	Hold   int // for how many days a rate holds at most
}

// Foreign is a currency that is not the organisation's.
type Foreign struct {
	Code    string
	Records int    // that are in it
	Rates   int    // how many there are
	Latest  string // what it is worth, for people; "" where it has no rate
	Day     string // since when, for people
	Stale   bool   // whether the latest does not hold any more
}

// Currencies gives the currencies that amounts may be in, with what they are worth.
func (s *Shape) Currencies(v *answers.View) (*Currencies, error) {
	if err := may(v); err != nil {
		return nil, err
	}
	sch := v.Snap.Schema
	out := &Currencies{Own: sch.Settings.Currency, Others: []Foreign{}, Hold: sch.RatesHold()}
	uses, err := inCurrencies(v)
	if err != nil {
		return nil, err
	}
	latest, err := latestRates(v)
	if err != nil {
		return nil, err
	}
	for _, code := range sch.Settings.Currencies {
		one := Foreign{Code: code, Records: uses[column.Fold(code)]}
		if r, ok := latest[column.Fold(code)]; ok {
			one.Rates, one.Day, one.Stale = r.n, v.Figures.Form.Day(r.day), int(v.Day-r.day) > out.Hold
			one.Latest = fmt.Sprintf(
				"%s %s = %s %s",
				v.Figures.Form.Number(r.units),
				code,
				v.Figures.Form.Number(r.worth),
				out.Own,
			)
		}
		out.Others = append(out.Others, one)
	}
	return out, nil
}

// latestRate is the rate of a currency that was entered for the latest day.
type latestRate struct {
	n            int
	day          int32
	units, worth string
}

func latestRates(v *answers.View) (map[string]latestRate, error) {
	out := map[string]latestRate{}
	t := v.Snap.Schema.Rates()
	table, err := v.Snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	var cols [4]*column.Column
	for i, key := range []string{"currency", "day", "units", "worth"} {
		if cols[i], err = v.Snap.Column(t.Key, key); err != nil {
			return nil, err
		}
	}
	for row := range int32(table.N) {
		code, day := cols[0].At(row), cols[1].At(row)
		if code == column.Null || day == column.Null {
			continue
		}
		key := column.Fold(cols[0].Dict.Values()[code])
		r := out[key]
		if r.n++; r.n == 1 || int32(day) >= r.day {
			r.day = int32(day)
			r.units = v.Snap.Text(cols[2], cols[2].At(row), table)
			r.worth = v.Snap.Text(cols[3], cols[3].At(row), table)
		}
		out[key] = r
	}
	return out, nil
}

// inCurrencies counts the records whose amounts are in each currency, by its folded code.
func inCurrencies(v *answers.View) (map[string]int, error) {
	out := map[string]int{}
	for _, t := range v.Snap.Schema.Types {
		f := t.Field(t.Currency)
		if f == nil {
			continue
		}
		uses, err := usesOf(v, t, f)
		if err != nil {
			return nil, err
		}
		for code, n := range uses {
			out[column.Fold(code)] += n
		}
	}
	return out, nil
}

// SetCurrencies sets in which currencies amounts may be besides the organisation's, and for how many days a rate holds at
// most. What records are in stays one. version is the one that was read.
func (s *Shape) SetCurrencies(ctx context.Context, v *answers.View, list []string, hold, version int) error {
	if err := may(v); err != nil {
		return err
	}
	if len(list) > mostCurrencies {
		return fault.New(fault.Invalid, "/others", "There are %d other currencies at most.", mostCurrencies)
	}
	if hold < 1 || hold > schema.MaxRatesHold {
		return fault.New(fault.Invalid, "/hold", "A rate holds for 1 to %d days.", schema.MaxRatesHold)
	}
	own := v.Snap.Schema.Settings.Currency
	for i, code := range list {
		at := fmt.Sprintf("/others/%d", i)
		switch {
		case !naming.Currency(code):
			return fault.New(fault.Invalid, at, "“%s” is no currency; write it in three letters, like NOK.", code)
		case code == own:
			return fault.New(fault.Invalid, at, "%s is the organisation’s own.", code)
		case slices.Contains(list[:i], code):
			return fault.New(fault.Invalid, at, "%s is there already.", code)
		}
	}
	uses, err := inCurrencies(v)
	if err != nil {
		return err
	}
	for _, code := range v.Snap.Schema.Settings.Currencies {
		if n := uses[column.Fold(code)]; n > 0 && !slices.Contains(list, code) {
			records := brief.Counted(&schema.Type{Label: "records", One: "record"}, int64(n))
			return fault.New(fault.Invalid, "/others", "%s have amounts in %s. Give them another currency first.",
				strings.TrimSpace(records), code)
		}
	}
	return s.reshape(ctx, v, version, func(_ *store.Writer, set *schema.Settings) error {
		set.Currencies, set.RatesHold = list, hold
		if hold == schema.DefaultRatesHold {
			set.RatesHold = 0
		}
		return nil
	})
}
