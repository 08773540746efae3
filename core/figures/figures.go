// Package figures is how an organisation writes numbers and amounts for people: its marks between thousands and before
// decimals, and on which side of an amount the currency stands. Marks are those of golang.org/x/text (Unicode CLDR).
// Sentences are not written so: they are typed, and read one way by everyone.
package figures

import (
	"fmt"
	"slices"
	"strings"

	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"
)

// Form is a way to write figures. The zero value is 1,234.56 with the currency's sign before it.
type Form struct {
	group, decimal string
	after          bool
}

// Tags are the ways that an organisation chooses among, as language tags: the first is the zero Form's.
var Tags = []string{"en", "de", "de-CH", "fr", "nl"}

// before are the languages that write a currency's sign before an amount.
var before = []string{"en", "de-CH", "nl"}

// Of is the way of a language tag; an error says that it is none of Tags.
func Of(tag string) (Form, error) {
	if tag == "" || tag == Tags[0] {
		return Form{}, nil
	}
	if !slices.Contains(Tags, tag) {
		return Form{}, fmt.Errorf("figures are written as in %s, not as in %q", strings.Join(Tags, ", "), tag)
	}
	// A number is written once by the library, and its marks are taken from that: it writes no number as long as ours.
	said := []rune(message.NewPrinter(language.Make(tag)).Sprint(number.Decimal(1234567.5)))
	f := Form{after: !slices.Contains(before, tag)}
	for i, r := range said {
		switch {
		case r >= '0' && r <= '9':
		case i < len(said)-2:
			f.group = string(r)
		default:
			f.decimal = string(r)
		}
	}
	return f, nil
}

// Number writes a plain decimal, such as -1234.50, for people: −1,234.50.
func (f Form) Number(plain string) string {
	group, decimal := f.group, f.decimal
	if decimal == "" {
		group, decimal = ",", "."
	}
	sign := ""
	if rest, ok := strings.CutPrefix(plain, "-"); ok {
		sign, plain = "−", rest
	}
	whole, cut, dot := strings.Cut(plain, ".")
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + group + whole[i:]
	}
	if dot {
		whole += decimal + cut
	}
	return sign + whole
}

// Money puts a currency's sign to an amount that was written by Number.
func (f Form) Money(sign, amount string) string {
	if f.after && sign != "" {
		return amount + "\u00a0" + strings.TrimSpace(sign)
	}
	if rest, ok := strings.CutPrefix(amount, "−"); ok {
		return "−" + sign + rest
	}
	return sign + amount
}
