// Package chart turns a result into a drawing: what categories, series, values, labels, colours and ticks are on the
// picture. The front end draws drawings and works nothing out.
package chart

import (
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/figures"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Writer writes values for people, in the organisation's settings.
type Writer struct {
	Style    *Style                      // of charts; nil for our own
	Styles   map[string]Style            // those that charts ask for, by key
	Steps    map[string]engine.Onward    // how many went on from a stage, where a chart asks for it
	NameOf   func(typ, id string) string // the name of a record; nil where numbers will do
	Aims     Aims                        // what is aimed at by group; nil where nothing is
	Currency string
	Cal      *period.Calendar
	Form     figures.Form // how figures are written
}

// In is a writer that writes amounts in a currency.
func (w Writer) In(currency string) Writer {
	w.Currency = currency
	return w
}

// Value writes a value in full: €431,159.53. Style of the format changes how it reads, never what it is.
func (w Writer) Value(k schema.Kind, v result.Value, f *brief.Format) string {
	if !v.Set {
		return ""
	}
	switch {
	case k.Dated():
		at, _ := v.Num.Scaled(1)
		return w.day(k, at, f)
	case f != nil && f.Style == "percent":
		return w.decimals(v.Num.Mul(exact.Int(100)), f, 1) + " %"
	case k == schema.Money || (f != nil && f.Style == "money"):
		return w.Form.Money(brief.Currency(w.Currency), w.decimals(v.Num, f, 2))
	case k == schema.Percent:
		return w.decimals(v.Num, f, -1) + " %"
	}
	return w.decimals(v.Num, f, -1)
}

// Ratio writes a share as a percentage with one decimal.
func (w Writer) Ratio(v result.Value) string {
	if !v.Set {
		return ""
	}
	return w.Form.Number(v.Num.Mul(exact.Int(100)).Fixed(1)) + " %"
}

func (w Writer) decimals(n exact.Num, f *brief.Format, otherwise int) string {
	unit := ""
	if f != nil && f.Unit == "K" {
		n, unit = n.Mul(exact.Frac(1, 1000)), " K"
	}
	if f != nil && f.Unit == "M" {
		n, unit = n.Mul(exact.Frac(1, 1_000_000)), " M"
	}
	if f != nil && f.Decimals != nil {
		otherwise = *f.Decimals
	}
	if otherwise < 0 {
		s := n.Fixed(2)
		s = strings.TrimSuffix(strings.TrimRight(s, "0"), ".")
		return w.Form.Number(s) + unit
	}
	return w.Form.Number(n.Fixed(otherwise)) + unit
}

func (w Writer) day(k schema.Kind, at int64, f *brief.Format) string {
	form := ""
	if f != nil {
		form = f.Date
	}
	day := int32(at)
	if k == schema.Time {
		day = w.Cal.DayOf(at)
	}
	said := w.Form.Day(day)
	if form != "" {
		said = brief.DayIn(day, form)
	}
	if k == schema.Time && form != "month" {
		said += " " + w.Cal.FormatInstant(at)[11:16]
	}
	return said
}

// Inner is Field for a value that is worked out for a report alone.
func (w Writer) Inner(k schema.Kind, text string, f *brief.Format) string {
	return w.Field(k, nil, text, f)
}

// Field writes the CSV form of a field's value for people.
func (w Writer) Field(k schema.Kind, field *schema.Field, text string, f *brief.Format) string {
	if text == "" {
		return ""
	}
	switch {
	case k.Numeric():
		n, ok := exact.Parse(text)
		if !ok {
			return text
		}
		if field != nil && field.Exact && f == nil {
			return w.Form.Number(n.String())
		}
		return w.Value(k, result.Value{Set: true, Num: n}, f)
	case k.Dated():
		v, err := column.Parse(k, text, w.Cal)
		if err != nil {
			return text
		}
		return w.day(k, v, f)
	case k == schema.YesNo:
		return field.Word(text == "true")
	}
	return text
}

// Short writes a value in few characters for a label on a picture: €1.16 M.
func (w Writer) Short(k schema.Kind, v result.Value, f *brief.Format) string {
	if !v.Set {
		return ""
	}
	if k.Dated() || (f != nil && (f.Style == "percent" || f.Unit != "" || f.Decimals != nil)) {
		return w.Value(k, v, f)
	}
	abs := v.Num.Abs()
	short := brief.Format{Style: "plain"}
	if f != nil {
		short = *f
	}
	two, one, none := 2, 1, 0
	switch {
	case abs.Cmp(exact.Int(1_000_000)) >= 0:
		short.Unit, short.Decimals = "M", &two
	case abs.Cmp(exact.Int(10_000)) >= 0:
		short.Unit, short.Decimals = "K", &none
	case abs.Cmp(exact.Int(1000)) >= 0 && k == schema.Money:
		short.Unit, short.Decimals = "K", &one
	case k == schema.Money:
		short.Decimals = &none
	}
	return w.Value(k, v, &short)
}

// Label writes a group's label for people: months and days in words, a record by its name.
func (w Writer) Label(g *brief.BoundGroup, m result.Member) string {
	if !m.Value() {
		return m.Label
	}
	if v := g.Values[0]; v.Kind == schema.ID && w.NameOf != nil {
		if name := w.NameOf(v.To, m.Label); name != "" {
			return name // with its number where others have the same
		}
	}
	if v := g.Values[0]; v.Kind == schema.YesNo {
		return v.Field.Word(m.Label == "true")
	}
	switch g.Group.By {
	case period.ByMonth:
		return brief.MonthWords(w.Cal.First(period.ByMonth, int(m.Key)))
	case period.ByDay, period.ByWeek:
		return w.Form.Day(w.Cal.First(g.Group.By, int(m.Key)))
	case period.ByHour:
		return m.Label + ":00"
	}
	if g.Values[0].Kind.Numeric() {
		return w.Form.Number(m.Label)
	}
	return m.Label
}
