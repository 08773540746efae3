package column

import (
	"fmt"
	"strconv"

	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// Micro is the unit of numbers and percents inside: millionths. Money is in hundredths, its minor unit.
const Micro = 1_000_000

// Scale is the number of inner units in one of a numeric kind. A percent's one is 1 %.
func Scale(k schema.Kind) int64 {
	if k == schema.Money {
		return 100
	}
	return Micro
}

// Parse reads a value of a kind in its CSV form to its inner one. It is not for text, choices, ids and links.
func Parse(k schema.Kind, s string, cal *period.Calendar) (int64, error) {
	switch k {
	case schema.Number, schema.Percent, schema.Money:
		v, ok := exact.ParseScaled(s, Scale(k))
		if !ok {
			if k == schema.Money {
				return 0, fmt.Errorf("%q is not an amount of money like 1250.50, with two decimals at most", s)
			}
			return 0, fmt.Errorf("%q is not a number like 12.5, with six decimals at most", s)
		}
		return v, nil
	case schema.Date:
		d, err := period.ParseDay(s)
		return int64(d), err
	case schema.Time:
		return cal.ParseInstant(s)
	case schema.YesNo:
		if b, err := strconv.ParseBool(s); err == nil && (s == "true" || s == "false") {
			if b {
				return 1, nil
			}
			return 0, nil
		}
		return 0, fmt.Errorf("%q is neither true nor false", s)
	}
	return 0, fmt.Errorf("a %s has no parsed form", k)
}

// Format writes an inner value of a kind in its CSV form; Null as nothing. It is not for text, choices, ids and links.
func Format(k schema.Kind, v int64, cal *period.Calendar) string {
	if v == Null {
		return ""
	}
	switch k {
	case schema.Money:
		return exact.Frac(v, 100).Fixed(2)
	case schema.Number, schema.Percent:
		return exact.Frac(v, Micro).String()
	case schema.Date:
		return period.FormatDay(int32(v))
	case schema.Time:
		return cal.FormatInstant(v)
	case schema.YesNo:
		return strconv.FormatBool(v == 1)
	}
	return strconv.FormatInt(v, 10)
}
