package bringin

import (
	"regexp"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/records"
)

var codeInCell = regexp.MustCompile(`(^|[^A-Z])([A-Z]{3})([^A-Z]|$)`)

// currencyIn is the currency that a cell says its amount is in: a code of three letters, or the sign of one; "" for none.
func currencyIn(cell string, known []string) string {
	if m := codeInCell.FindStringSubmatch(cell); m != nil {
		return m[2]
	}
	for _, code := range append(known, "EUR", "GBP", "USD") {
		if sign := strings.TrimSpace(brief.Currency(code)); len([]rune(sign)) == 1 && strings.Contains(cell, sign) {
			return code
		}
	}
	return ""
}

// currency takes the currency that an amount is written with: it is the record's, and no other than what the line says
// beside it. Amounts of records that have no currency are the organisation's. It says false where the line is refused.
func (tr *trial) currency(i, col int, cell string, values records.Values) bool {
	set := tr.v.Snap.Schema.Settings
	code := currencyIn(cell, set.Currencies)
	if code == "" {
		return true
	}
	f := tr.t.Field(tr.t.Currency)
	if f == nil {
		if code != set.Currency {
			tr.refuse(i, col, "%s have no currency of their own, and this is in %s", strings.ToLower(tr.t.Label), code)
		}
		return code == set.Currency
	}
	said := strings.ToUpper(values[f.Key])
	if said != "" && said != code {
		tr.refuse(i, col, "the amount is in %s, and the line says %s", code, said)
		return false
	}
	if !tr.says(f.Key) && (code != set.Currency || tr.v.Snap.Schema.SeveralCurrencies()) {
		values[f.Key] = code
	}
	return true
}

// says whether a column of the file is a field.
func (tr *trial) says(field string) bool {
	for _, c := range tr.p.Columns {
		if c.Field == field {
			return true
		}
	}
	return false
}

// ratesThere are the exchange rates that there are, by currency and day: those of a file take the place of these.
func ratesThere(v *answers.View, t *schema.Type) (map[[2]string]string, error) {
	at := map[[2]string]string{}
	if !t.Rates {
		return at, nil
	}
	days := map[string]string{}
	if err := v.Snap.EachText(t.Key, "day", func(_ int32, id, text string) { days[id] = text }); err != nil {
		return nil, err
	}
	return at, v.Snap.EachText(t.Key, "currency", func(_ int32, id, text string) {
		at[[2]string{column.Fold(text), days[id]}] = id // the latest of several, which is the one that counts
	})
}

// rate finds the exchange rate that a line takes the place of: 0 for none. It says false where the line is refused.
func (tr *trial) rate(i int, values records.Values) (id int64, ok bool) {
	at := [2]string{column.Fold(values["currency"]), values["day"]}
	if was, twice := tr.keys[strings.Join(at[:], " ")]; twice {
		tr.refuse(i, -1, "line %d has a rate of that day already", was)
		return 0, false
	}
	tr.keys[strings.Join(at[:], " ")] = tr.sheet.Lines[i]
	id, _ = strconv.ParseInt(tr.rates[at], 10, 64)
	return id, true
}
