package demo

import (
	"cmp"
	"slices"
	"strconv"

	"uzzel/internal/store"
)

// work is an activity being made.
type work struct {
	deal, customer int // deal is -1 for none
	day, made      int32
	kind, purpose  string
	subject        string
}

// Kinds of work in the order in which a deal goes on: one talks, sees the place, offers.
var (
	talks   = []string{"Call", "Call", "Call", "Email", "Text message"}
	surveys = []string{"Site visit", "Site visit", "Call", "Video meeting", "Email", "To-do"}
	offers  = []string{"Video meeting", "Call", "Email", "Letter", "Site visit", "To-do", "Call"}
	cares   = []string{"Call", "Call", "Email", "Letter", "To-do"}
	about   = map[string][]string{
		"First talk":  {"Berth plan", "Prices", "Delivery dates"},
		"Survey plan": {"Site walk", "Mooring layout", "Survey photos", "Permit"},
		"Offer talk":  {"Prices", "Second offer", "Insurance papers", "Handover"},
		"Care":        {"Care contract", "Winter storage", "Insurance papers", "Delivery dates"},
	}
)

// makeActivities has each deal worked on while it was open, in the order in which such work goes on, and customers
// looked after besides. What is planned lies ahead of open deals alone.
func (m *maker) makeActivities() {
	var list []work
	counts := make([]int, len(m.course))
	for range activityCount * 78 / 100 {
		counts[m.rnd.IntN(len(counts))]++
	}
	for deal, n := range counts {
		list = append(list, m.worked(deal, n)...)
	}
	for len(list) < activityCount {
		c := m.rnd.IntN(customerCount)
		day := m.between(max(m.known[c], m.today-span), m.today+14)
		if m.chance(30) {
			day = m.between(max(m.known[c], m.today-100), m.today+14)
		}
		list = append(
			list,
			work{deal: -1, customer: c, day: day, kind: pick(m, cares), purpose: "Care", subject: pick(m, about["Care"])},
		)
	}
	for i := range list {
		w := &list[i]
		from := m.known[w.customer]
		if w.deal >= 0 {
			from = m.course[w.deal].from
		}
		w.made = m.between(max(from, w.day-12), min(w.day, m.today))
	}
	slices.SortStableFunc(list, func(a, b work) int { return cmp.Compare(a.made, b.made) })
	for i, w := range list {
		m.activities = append(m.activities, m.activity(i, w))
	}
}

// worked is the work on a deal. A deal gone quiet has none of late.
func (m *maker) worked(deal, n int) []work {
	c := m.course[deal]
	last := c.to + 6
	if c.open {
		last = m.today + 14
		if deal%9 == 0 {
			last = max(c.from, m.today-75)
		}
	}
	days := make([]int32, n)
	for i := range days {
		days[i] = m.between(c.from, last)
		if c.open && deal%9 != 0 && m.chance(45) {
			days[i] = m.between(max(c.from, m.today-60), last)
		}
	}
	slices.Sort(days)
	list := make([]work, n)
	for i, day := range days {
		w := work{deal: deal, customer: c.customer, day: day}
		switch {
		case c.care:
			w.kind, w.purpose = pick(m, cares), "Care"
		case i == 0 || i*3 < n:
			w.kind, w.purpose = pick(m, talks), "First talk"
		case i*3 < 2*n:
			w.kind, w.purpose = pick(m, surveys), "Survey plan"
		default:
			w.kind, w.purpose = pick(m, offers), "Offer talk"
		}
		w.subject = pick(m, about[w.purpose])
		list[i] = w
	}
	return list
}

func (m *maker) activity(i int, w work) store.Record {
	owner := m.owner[w.customer]
	hour := 8 + m.rnd.IntN(10)
	r := store.Record{
		"id":       id(i),
		"kind":     w.kind,
		"subject":  w.subject,
		"purpose":  w.purpose,
		"customer": id(w.customer),
		"owner":    id(owner),
		"happens": m.instant(
			w.day,
			hour,
		),
		"minutes": strconv.Itoa(5 * (1 + m.rnd.IntN(18))),
		"done":    "false",
		"created": m.instant(w.made, 7),
	}
	if w.deal >= 0 {
		r["deal"] = id(w.deal)
		r["created"] = m.instant(w.made, max(7, min(hour, 8)))
		if w.made == m.course[w.deal].from {
			r["created"] = m.deals[w.deal]["created"]
			r["happens"] = m.instant(w.day, 17)
		}
	}
	// Work that nobody marked done: one in five, more with some people.
	left := 20
	if owner == 4 || owner == 10 {
		left = 55
	}
	if w.day < m.today && !m.chance(left) {
		r["done"] = "true"
		r["outcome"] = pick(m, Settings().Choices["activities.outcome"])
	}
	m.gaps(r, "purpose", 25, "minutes", 10, "outcome", 12)
	return r
}
