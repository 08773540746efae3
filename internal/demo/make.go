package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"

	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/internal/store"
)

// Sizes of the demo.
const (
	customerCount = 420
	contactCount  = 900
	dealCount     = 2600
	activityCount = 14000
	span          = 3 * 365 // days of the past
)

// maker makes the company's records. rnd is the only source of chance.
type maker struct {
	rnd   *rand.Rand
	cal   *period.Calendar
	today int32

	customers, contacts, deals, lines, activities []store.Record
	steps                                         []step
	owner                                         []int // by customer, place in People
	segment                                       []string
	known                                         []int32 // by customer: the day it was entered
	course                                        []course
}

// course is what became of a deal: from when to when it was worked on, and whether it goes on.
type course struct {
	customer, owner int
	from, to        int32 // the day that it was created, and that it was closed or today
	open, care      bool
}

// step is a change of a deal on its way.
type step struct {
	deal   int64
	day    int32
	hour   int
	person int
	to     store.Record
}

// Make sets the organisation up and fills an empty store, as of a day. Its people sign in with Password.
func Make(ctx context.Context, s *store.Store, today int32, seed uint64) error {
	if err := s.SetUp(ctx, Name, Settings()); err != nil {
		return err
	}
	if err := fill(ctx, s, today, seed); err != nil {
		return err
	}
	return keep(ctx, s, today, accounts)
}

// Fill puts the demo's records, reports and dashboards into a store that is set up and has no records, to look around
// in: with the demo's stages and choices, in the organisation's own name, zone and currency. Its people, numbered from 1
// to 14, have no accounts.
func Fill(ctx context.Context, s *store.Store, today int32, seed uint64) error {
	name, err := s.Organisation(ctx)
	if err != nil {
		return err
	}
	set, own := s.Schema().Settings, Settings()
	set.Stages, set.Choices = own.Stages, own.Choices
	if err := s.SetUp(ctx, name, set); err != nil {
		return err
	}
	if err := fill(ctx, s, today, seed); err != nil {
		return err
	}
	return keep(ctx, s, today, func(context.Context, *store.Store) error { return nil })
}

// fill writes the records.
func fill(ctx context.Context, s *store.Store, today int32, seed uint64) error {
	m := &maker{rnd: rand.New(rand.NewPCG(seed, uint64(today))), cal: s.Snapshot().Cal, today: today}
	m.makeCustomers()
	m.makeContacts()
	m.makeDeals()
	m.makeActivities()
	return s.Write(ctx, func(w *store.Writer) error {
		for _, part := range []struct {
			typ  string
			list []store.Record
		}{{"teams", teamRecords()}, {"people", peopleRecords()}, {"customers", m.customers}, {"contacts", m.contacts},
			{"exchange_rates", m.rates()}, {"products", m.products()}, {"deals", m.deals}, {"lines", m.lines}, {"activities", m.activities}} {
			if err := w.Add(part.typ, part.list); err != nil {
				return err
			}
		}
		for _, st := range m.steps {
			w.At, w.Person = m.at(st.day, st.hour), int64(st.person+1)
			if err := w.Change("deals", st.deal, st.to); err != nil {
				return err
			}
		}
		return nil
	})
}

// keep makes what people keep: folders, targets, reports, dashboards. accounts are made first.
func keep(ctx context.Context, s *store.Store, today int32, accounts func(context.Context, *store.Store) error) error {
	for _, part := range []func(context.Context, *store.Store) error{
		accounts,
		folders,
		func(ctx context.Context, s *store.Store) error { return keepTargets(ctx, s, today) },
		keepReports,
		func(ctx context.Context, s *store.Store) error { return keepStyles(ctx, s, today) },
		keepTeams,
		keepPoints,
	} {
		if err := part(ctx, s); err != nil {
			return err
		}
	}
	return nil
}

func accounts(ctx context.Context, s *store.Store) error {
	hash, err := store.HashPassword(Password)
	if err != nil {
		return err
	}
	for i, p := range People {
		if err := s.PutAccount(ctx, store.Account{Person: int64(i + 1), Role: p.Role, Password: hash}); err != nil {
			return err
		}
	}
	return nil
}

// folders are that of the company, and one of each team.
func folders(ctx context.Context, s *store.Store) error {
	for _, name := range append([]string{"Company"}, teams...) {
		f := store.Folder{Name: name, Access: []store.Access{{Kind: store.ForEveryone, MayChange: true}}}
		for i, team := range teams {
			if team == name {
				// A team's folder is its own to change; the others read.
				f.Access = []store.Access{{Kind: store.ForEveryone}, {Kind: store.ForTeam, Subject: int64(i + 1), MayChange: true}}
			}
		}
		if err := s.AddFolder(ctx, &f); err != nil {
			return err
		}
	}
	return nil
}

func id(i int) string { return strconv.Itoa(i + 1) }

func teamRecords() []store.Record {
	var list []store.Record
	for i, name := range teams {
		list = append(list, store.Record{"id": id(i), "name": name})
	}
	return list
}

func peopleRecords() []store.Record {
	var list []store.Record
	for i, p := range People {
		list = append(list, store.Record{"id": id(i), "name": p.Name, "team": id(p.Team), "active": "true",
			"email": fmt.Sprintf("p%d@brinehaven.example", i+1)})
	}
	return list
}

func pick[T any](m *maker, list []T) T { return list[m.rnd.IntN(len(list))] }

func (m *maker) chance(percent int) bool { return m.rnd.IntN(100) < percent }

func (m *maker) at(day int32, hour int) int64 {
	return m.cal.StartOf(day) + int64(hour)*3600 + int64(day*37%60)*60
}

func (m *maker) instant(day int32, hour int) string { return m.cal.FormatInstant(m.at(day, hour)) }

// weekday moves a Saturday or Sunday to the Monday after.
func weekday(day int32) int32 {
	switch (day + 4) % 7 { // 1970-01-01 was a Thursday
	case 6:
		return day + 2
	case 0:
		return day + 1
	}
	return day
}

func (m *maker) money(euros float64) string {
	return column.Format("money", int64(euros*100), m.cal)
}

// sellers lists who sells in a team.
func sellers(team int) []int {
	var list []int
	for i, p := range People {
		if p.Team == team && i != 1 && i != 12 {
			list = append(list, i)
		}
	}
	return list
}

func (m *maker) makeCustomers() {
	weights := []int{30, 16, 24, 8, 12, 10}
	used := map[string]bool{}
	for range customerCount {
		m.known = append(m.known, weekday(m.today-int32(200+m.rnd.IntN(span+700))))
	}
	slices.Sort(m.known) // numbers are given in the order in which records are entered
	for i := range customerCount {
		seg := segments[m.weighted(weights)]
		name := ""
		for name == "" || used[name] {
			name = pick(m, placeHeads) + pick(m, placeTails) + " " + pick(m, customerKinds[seg])
		}
		used[name] = true
		team := m.rnd.IntN(3)
		if seg == "Lake resort" {
			team = 2
		}
		owner := pick(m, sellers(team))
		size := 10 + m.rnd.IntN(180)
		if seg == "Harbour" && m.chance(45) {
			size = 250 + m.rnd.IntN(400)
			owner = 2 // one seller has all the big harbours
		}
		if m.chance(4) {
			owner = pick(m, sellers(3))
		}
		r := store.Record{
			"id":      id(i),
			"name":    name,
			"segment": seg,
			"kind":    pick(m, Settings().Choices["customers.kind"]),
			"source": pick(
				m,
				Settings().Choices["customers.source"],
			),
			"size":     strconv.Itoa(size),
			"city":     pick(m, placeHeads) + pick(m, placeTails),
			"region":   pick(m, []string{"North", "West", "South", "Lakes", "Islands"}),
			"country":  pick(m, countries),
			"postcode": strconv.Itoa(1000 + m.rnd.IntN(8999)),
			"owner":    id(owner),
			"created":  m.instant(m.known[i], 7),
		}
		m.gaps(r, "segment", 3, "source", 9, "size", 12, "region", 15, "postcode", 20)
		switch {
		case i >= 5 && i < 10: // a group with five sites under one parent
			r["parent"], r["name"] = "5", "Eiderhaven Group, "+r["city"]
		case i == 4:
			r["name"] = "Eiderhaven Group"
		case i%97 == 50: // entered twice
			r["name"] = m.customers[i-3]["name"] + pick(m, []string{" ", " Ltd", " (new)"})
		case twiceOf("customers", i) >= 0:
			again(r, m.customers[twiceOf("customers", i)], "customers", i)
		}
		m.customers = append(m.customers, r)
		m.owner, m.segment = append(m.owner, owner), append(m.segment, seg)
	}
}

// gaps leaves fields empty, each in so many of a hundred records.
func (m *maker) gaps(r store.Record, fields ...any) {
	for i := 0; i < len(fields); i += 2 {
		if m.chance(fields[i+1].(int)) {
			delete(r, fields[i].(string))
		}
	}
}

func (m *maker) weighted(weights []int) int {
	total := 0
	for _, w := range weights {
		total += w
	}
	n := m.rnd.IntN(total)
	for i, w := range weights {
		if n < w {
			return i
		}
		n -= w
	}
	return 0
}

func (m *maker) makeContacts() {
	for i := range contactCount {
		c := m.rnd.IntN(customerCount)
		if i < customerCount {
			c = i
		}
		r := store.Record{
			"id":       id(i),
			"name":     pick(m, firstNames) + " " + pick(m, lastNames),
			"customer": id(c),
			"owner":    id(m.owner[c]),
			"kind":     pick(m, Settings().Choices["contacts.kind"]),
			"source":   pick(m, Settings().Choices["contacts.source"]),
			"email": fmt.Sprintf(
				"c%d@mail.example",
				i+1,
			),
			"phone":   fmt.Sprintf("+000 %03d %04d", m.rnd.IntN(1000), m.rnd.IntN(10000)),
			"job":     pick(m, jobs),
			"created": m.instant(m.met(i, c), 8),
		}
		m.gaps(r, "email", 8, "phone", 25, "job", 10, "source", 30)
		if of := twiceOf("contacts", i); of >= 0 {
			again(r, m.contacts[of], "contacts", i)
		}
		m.contacts = append(m.contacts, r)
	}
}

// met is the day that a contact was entered: the first of a customer with it, others later.
func (m *maker) met(i, customer int) int32 {
	if i < customerCount {
		return m.known[customer]
	}
	return m.between(m.known[customer], m.today)
}

// between is a day of the week from one day to another.
func (m *maker) between(from, to int32) int32 {
	if to <= from {
		return from
	}
	day := weekday(from + int32(m.rnd.IntN(int(to-from)+1)))
	if day > to {
		return max(from, day-3) // the Friday before
	}
	return day
}

func (m *maker) products() []store.Record {
	var list []store.Record
	for i, family := range Settings().Choices["products.family"] {
		for k, size := range []string{"S", "M", "L"} {
			list = append(list, store.Record{"id": id(len(list)), "name": family + " " + size, "family": family,
				"price": m.money(float64(900 + 700*i + 1900*k + m.rnd.IntN(300))), "created": m.instant(m.today-span-200, 9)})
		}
	}
	return list
}

func atoi(s string) int {
	n, _ := strconv.Atoi(s)
	return n
}
