package schema

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// For how many days an exchange rate holds where no later one comes: as settings say, or a month and some days, so that
// rates that are entered once a month hold through it.
const (
	DefaultRatesHold = 35
	MaxRatesHold     = 800
)

// CurrencyKey is the field by which amounts of an added type, or of one that has no currency of its own, say theirs.
const CurrencyKey = "currency"

var currencyRule = regexp.MustCompile(`^[A-Z]{3}$`)

// currencies are the organisation's own and the others, in their order.
func (s *Schema) currencies() []string {
	if s.Settings.Currency == "" {
		return slices.Clone(s.Settings.Currencies)
	}
	return append([]string{s.Settings.Currency}, s.Settings.Currencies...)
}

// RatesHold is for how many days an exchange rate holds where no later one of its currency comes.
func (s *Schema) RatesHold() int { return cmp.Or(s.Settings.RatesHold, DefaultRatesHold) }

// SeveralCurrencies says whether amounts may be in others than the organisation's own.
func (s *Schema) SeveralCurrencies() bool { return len(s.Settings.Currencies) > 0 }

// money checks the currencies of the settings, and finds those of record types that have a field of their own for it.
func (s *Schema) money() error {
	seen := map[string]bool{s.Settings.Currency: true}
	for _, c := range s.Settings.Currencies {
		if !currencyRule.MatchString(c) {
			return fmt.Errorf("settings: currencies: %q is not three capital letters, as of ISO 4217", c)
		}
		if seen[c] {
			return fmt.Errorf("settings: currencies: %s stands twice, or is the organisation's own", c)
		}
		seen[c] = true
	}
	if n := s.Settings.RatesHold; n < 0 || n > MaxRatesHold {
		return fmt.Errorf("settings: ratesHold: a rate holds for 1 to %d days", MaxRatesHold)
	}
	for _, t := range s.Types {
		f := t.Field(CurrencyKey)
		if t.Currency != "" || f == nil || f.Kind != Choice || t.Rates {
			continue
		}
		t.Currency, f.Currencies = CurrencyKey, true
		if i := slices.IndexFunc(t.Fields, func(f Field) bool { return f.Closes != "" }); i >= 0 {
			t.Rated = []string{t.Fields[i].Key}
		}
	}
	return nil
}

// Step is a link to one on the way to a field.
type Step struct {
	Type  *Type
	Field *Field
}

// Follow goes a path over links to one from a record type to a field.
func (s *Schema) Follow(t *Type, path string) ([]Step, *Field, error) {
	var steps []Step
	keys := strings.Split(path, ".")
	for i, key := range keys {
		f := t.Field(key)
		switch {
		case f == nil:
			return nil, nil, fmt.Errorf("%s have no field %q", strings.ToLower(t.Label), key)
		case i == len(keys)-1:
			return steps, f, nil
		case f.Kind != Link:
			return nil, nil, fmt.Errorf("%q is %s, not a link, so nothing can be read behind it", key, f.Kind.Words())
		}
		steps = append(steps, Step{t, f})
		t = s.Type(f.To)
	}
	return nil, nil, fmt.Errorf("a field is named here by its path")
}
