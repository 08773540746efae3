package result

import "uzzel/core/exact"

// Member is one group of a field: a value it has, (blank), Other, or (hidden): what the reader may not see.
type Member struct {
	Label  string
	Blank  bool
	Other  bool
	Hidden bool
	// Key is the value inside: a row number, the ordinal of a unit of time, a number; a rank for ordered texts.
	Key int64
}

// HiddenLabel is shown in place of a value that the reader may not see.
const HiddenLabel = "(hidden)"

// Value says whether a member is a value: neither (blank), nor Other, nor (hidden).
func (m Member) Value() bool { return !m.Blank && !m.Other && !m.Hidden }

// Value is one number, date or time of a result; Set is false where it is empty. Dates are days, times seconds;
// money is in whole units, percents in percent.
type Value struct {
	Set bool
	Num exact.Num
}
