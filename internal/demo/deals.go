package demo

import (
	"math"
	"slices"
	"strconv"

	"uzzel/core/period"
	"uzzel/internal/store"
)

// Stages of each pipeline on the way to its end.
var ways = map[string][]string{
	"Projects": {"Enquiry", "Site survey", "Design", "Offer sent", "Contract review"},
	"Care":     {"Due", "Renewal sent"},
}

var likelihoods = map[string]string{
	"Enquiry":         "10",
	"Site survey":     "25",
	"Design":          "45",
	"Offer sent":      "60",
	"Contract review": "80",
	"Ordered":         "100",
	"Not taken up":    "0",
	"Due":             "60",
	"Renewal sent":    "75",
	"Renewed":         "100",
	"Ended":           "0",
}

// Of a hundred deals that are decided, so many are won.
var winRates = map[string]int{
	"Marina":       46,
	"Harbour":      41,
	"Sailing club": 52,
	"Ferry line":   38,
	"Fish farm":    44,
	"Lake resort":  13,
}

// deal is one being made.
type deal struct {
	id       int
	customer int
	owner    int
	way      []string
	care     bool
	created  int32
	value    float64 // in euros
	currency money
}

func (m *maker) makeDeals() {
	// The company grows: more deals begin the nearer the day. Numbers are given in the order in which they begin.
	days := make([]int32, dealCount)
	for i := range days {
		days[i] = min(weekday(m.today-int32(span*math.Pow(m.rnd.Float64(), 1.3))), m.today)
	}
	slices.Sort(days)
	for i, day := range days {
		c := m.rnd.IntN(customerCount)
		for m.known[c] > day { // none before its customer
			c = m.rnd.IntN(c)
		}
		d := deal{id: i, customer: c, owner: m.owner[c], care: m.chance(28), created: day, currency: currencyOf(c)}
		d.way = ways["Projects"]
		if d.care {
			d.way = ways["Care"]
		}
		d.value = m.dealValue(d)
		m.makeDeal(d)
	}
}

func (m *maker) dealValue(d deal) float64 {
	scale := map[string]float64{
		"Marina":       46000,
		"Harbour":      88000,
		"Sailing club": 17000,
		"Ferry line":   64000,
		"Fish farm":    39000,
		"Lake resort":  21000,
	}
	v := scale[m.segment[d.customer]] * math.Exp(m.rnd.NormFloat64()*0.7)
	if d.care {
		v = 1200 + v/14
	}
	if size := atoi(m.customers[d.customer]["size"]); size > 250 && !d.care {
		v *= 1.8
	}
	return math.Round(v/50) * 50
}

func (m *maker) makeDeal(d deal) {
	kind := "Service plan"
	name := "Care plan " + m.customers[d.customer]["city"]
	if !d.care {
		kind = pick(m, []string{"New build", "Extension", "Refit"})
		name = pick(m, works) + " " + m.customers[d.customer]["city"]
	}
	expect := weekday(d.created + int32(40+m.rnd.IntN(150)))
	r := store.Record{
		"id":         id(d.id),
		"name":       name,
		"customer":   id(d.customer),
		"owner":      id(d.owner),
		"kind":       kind,
		"source":     pick(m, Settings().Choices["deals.source"]),
		"stage":      d.way[0],
		"likelihood": likelihoods[d.way[0]],
		"value": m.money(
			d.currency.round(d.value),
		),
		"currency":       d.currency.code,
		"expected_close": period.FormatDay(expect),
		"created":        m.instant(d.created, 9),
		"created_by":     id(d.owner),
	}
	if contact := d.customer; m.chance(85) {
		r["contact"] = id(contact)
	}
	m.gaps(r, "source", 8)
	if m.chance(5) {
		delete(r, "expected_close")
	}
	if m.chance(3) {
		delete(r, "value")
	}
	m.deals = append(m.deals, r)
	m.course = append(
		m.course,
		course{customer: d.customer, owner: d.owner, from: d.created, to: m.today, open: true, care: d.care},
	)
	if worth := m.walk(d, expect); r["value"] != "" {
		m.dealLines(d, worth)
	}
}

// walk moves a deal from stage to stage until it is decided or today is reached, and gives what it is worth then.
func (m *maker) walk(d deal, expect int32) float64 {
	worth := d.value
	day := d.created
	won, lost := "Ordered", "Not taken up"
	if d.care {
		won, lost = "Renewed", "Ended"
	}
	wins := winRates[m.segment[d.customer]]
	// The Inland team's current quarter is thin: nearly nothing it decides now is won.
	thin := People[d.owner].Team == 2
	quarter := m.cal.First(period.ByQuarter, m.cal.Ordinal(period.ByQuarter, m.today))
	for at := 1; ; at++ {
		day = weekday(day + int32(6+m.rnd.IntN(34)))
		if day >= m.today {
			return worth
		}
		if m.chance(2) { // a deal gone quiet: nothing moves any more
			return worth
		}
		decided := at == len(d.way) || m.chance(17)
		st := step{deal: int64(d.id + 1), day: day, hour: 9 + m.rnd.IntN(8), person: d.owner}
		switch {
		case decided:
			rate := wins
			if thin && day >= quarter {
				rate = 4
			}
			end := lost
			if at == len(d.way) && m.chance(rate*100/65) {
				end = won
			}
			st.to = store.Record{"stage": end, "likelihood": likelihoods[end], "closed": period.FormatDay(day)}
			m.steps = append(m.steps, st)
			m.course[d.id].to, m.course[d.id].open = day, false
			return worth
		default:
			st.to = store.Record{"stage": d.way[at], "likelihood": likelihoods[d.way[at]]}
		}
		if m.chance(25) && m.deals[d.id]["expected_close"] != "" {
			expect = weekday(max(expect, day) + int32(14+m.rnd.IntN(60)))
			st.to["expected_close"] = period.FormatDay(expect)
		}
		if m.chance(18) && m.deals[d.id]["value"] != "" {
			worth = math.Round(d.value*(0.8+0.5*m.rnd.Float64())/50) * 50
			st.to["value"] = m.money(d.currency.round(worth))
		}
		m.steps = append(m.steps, st)
	}
}

// dealLines cuts what a deal is worth into lines of different products that add up to it.
func (m *maker) dealLines(d deal, worth float64) {
	n := 1 + m.rnd.IntN(4)
	if worth < 1000 {
		n = 1
	}
	weights, all := make([]float64, n), 0.0
	for i := range weights {
		weights[i] = 0.3 + m.rnd.Float64()
		all += weights[i]
	}
	whole := d.currency.round(worth)
	left, products := whole, m.rnd.Perm(12)
	for i, w := range weights {
		amount := math.Round(whole*w/all/10) * 10
		if i == n-1 {
			amount = left
		}
		left -= amount
		m.lines = append(m.lines, store.Record{
			"id":      id(len(m.lines)),
			"deal":    id(d.id),
			"product": id(products[i]),
			"quantity": strconv.Itoa(
				max(1, int(math.Round(amount/d.currency.units/(900+float64(products[i])*1100)))),
			),
			"amount":  m.money(amount),
			"created": m.instant(d.created, 11),
		})
	}
}
