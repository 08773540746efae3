package demo

import (
	"math"
	"math/rand/v2"
	"strconv"

	"uzzel/core/period"
	"uzzel/internal/store"
)

// money is a currency with what a euro was worth in it when the company began.
type money struct {
	code  string
	units float64
}

var euros = money{"EUR", 1}

var foreign = []money{{"NOK", 11.6}, {"SEK", 11.3}, {"DKK", 7.46}, {"GBP", 0.86}}

// currencyOf is in which currency a customer pays: a quarter of them not in euros.
func currencyOf(customer int) money {
	if customer%4 != 1 {
		return euros
	}
	return foreign[customer/4%len(foreign)]
}

// round is an amount of euros in the currency, as an offer would have it.
func (c money) round(euros float64) float64 {
	if c.units == 1 {
		return euros
	}
	return math.Round(euros*c.units/50) * 50
}

// ratesEvery is how many days lie between rates, but for the last quarter, of which each workday has its own.
const ratesEvery = 7

// rates are what the currencies were worth, from before the first deal to the day: how much of each for one euro.
func (m *maker) rates() []store.Record {
	// Numbers of their own, so that what else is made stays as it was.
	rnd := rand.New(rand.NewPCG(41, uint64(m.today)))
	var list []store.Record
	for _, c := range foreign {
		swing := 0.004
		if c.code == "DKK" {
			swing = 0.0001
		}
		at := c.units
		for day := m.today - span - 30; day <= m.today; day++ {
			if day < m.today-90 && (m.today-day)%ratesEvery != 0 || weekday(day) != day {
				continue
			}
			at += (c.units-at)*0.02 + at*swing*rnd.NormFloat64()
			list = append(list, store.Record{"id": id(len(list)), "currency": c.code, "day": period.FormatDay(day),
				"units": strconv.FormatFloat(at, 'f', 4, 64), "worth": "1", "created": m.instant(day, 17)})
		}
	}
	return list
}
