package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"

	"uzzel/core/period"
	"uzzel/internal/store"
)

// Seed fills an empty store with so many deals, a tenth as many customers and three times as many activities, for
// measuring at size. It tells progress in words.
func Seed(ctx context.Context, s *store.Store, deals int, today int32, say func(string)) error {
	if err := s.SetUp(ctx, Name, Settings()); err != nil {
		return err
	}
	g := &seeder{rnd: rand.New(rand.NewPCG(1, uint64(deals))), cal: s.Snapshot().Cal, today: today,
		people: 60, customers: max(1, deals/10), deals: deals, activities: 3 * deals}
	return s.Write(ctx, func(w *store.Writer) error {
		if err := w.Add("teams", teamRecords()); err != nil {
			return err
		}
		rates := maker{cal: g.cal, today: today}
		if err := w.Add("exchange_rates", rates.rates()); err != nil {
			return err
		}
		for _, part := range []struct {
			typ     string
			n       int
			columns []string
			row     func(i int) []any
		}{
			{"people", g.people, []string{"id", "name", "team", "active"}, g.person},
			{"customers", g.customers, []string{"id", "name", "segment", "kind", "size", "city", "country", "parent", "owner", "created"}, g.customer},
			{"deals", g.deals, []string{"id", "name", "customer", "owner", "kind", "source", "stage", "value", "currency", "likelihood", "expected_close", "closed", "created"}, g.deal},
			{"activities", g.activities, []string{"id", "kind", "purpose", "outcome", "subject", "deal", "customer", "owner", "happens", "minutes", "done", "created"}, g.activity},
		} {
			say(fmt.Sprintf("%d %s", part.n, part.typ))
			i := 0
			err := w.Bulk(part.typ, part.columns, func() []any {
				if i == part.n || ctx.Err() != nil {
					return nil
				}
				i++
				return part.row(i)
			})
			if err != nil {
				return err
			}
		}
		return ctx.Err()
	})
}

type seeder struct {
	rnd                                  *rand.Rand
	cal                                  *period.Calendar
	today                                int32
	people, customers, deals, activities int
}

func any1[T any](g *seeder, list []T) T { return list[g.rnd.IntN(len(list))] }

func (g *seeder) day(span int) int32 { return g.today - int32(g.rnd.IntN(span)) }

func (g *seeder) at(day int32) int64 { return int64(day)*86400 + int64(g.rnd.IntN(86400)) }

// maybe leaves so many of a hundred values out.
func (g *seeder) maybe(percent int, v any) any {
	if g.rnd.IntN(100) < percent {
		return nil
	}
	return v
}

func (g *seeder) person(i int) []any {
	return []any{i, fmt.Sprintf("%s %s %d", any1(g, firstNames), any1(g, lastNames), i), 1 + i%len(teams), 1}
}

func (g *seeder) customer(i int) []any {
	seg := any1(g, segments)
	return []any{
		i,
		fmt.Sprintf("%s%s %s %d", any1(g, placeHeads), any1(g, placeTails), any1(g, customerKinds[seg]), i),
		g.maybe(3, seg),
		any1(
			g,
			choices["customers.kind"],
		),
		int64(10+g.rnd.IntN(400)) * 1_000_000,
		any1(g, placeHeads) + any1(g, placeTails),
		any1(g, countries),
		g.maybe(95, 1+g.rnd.IntN(g.customers)),
		1 + g.rnd.IntN(g.people),
		g.at(g.day(2000)),
	}
}

var seedStages = Settings().Stages

var choices = Settings().Choices

func (g *seeder) deal(i int) []any {
	st := seedStages[g.rnd.IntN(len(seedStages))]
	created := g.day(3 * 365)
	var closed any
	if st.Status != "open" {
		closed = min(created+int32(g.rnd.IntN(200)), g.today)
	}
	customer := 1 + g.rnd.IntN(g.customers)
	currency := currencyOf(customer - 1)
	value := int64(currency.round(math.Round(20000*math.Exp(g.rnd.NormFloat64())))) * 100
	return []any{
		i,
		fmt.Sprintf("%s %s%s %d", any1(g, works), any1(g, placeHeads), any1(g, placeTails), i),
		customer,
		1 + g.rnd.IntN(g.people),
		any1(
			g,
			choices["deals.kind"],
		),
		g.maybe(8, any1(g, choices["deals.source"])),
		st.Name,
		g.maybe(3, value),
		currency.code,
		int64(st.Likelihood) * 1_000_000,
		g.maybe(4, created+int32(20+g.rnd.IntN(300))),
		closed,
		g.at(created),
	}
}

func (g *seeder) activity(i int) []any {
	day := g.day(3*365) + 14
	return []any{
		i,
		any1(g, choices["activities.kind"]),
		g.maybe(25, any1(g, choices["activities.purpose"])),
		g.maybe(40, any1(g, choices["activities.outcome"])),
		any1(
			g,
			subjects,
		),
		g.maybe(20, 1+g.rnd.IntN(g.deals)),
		1 + g.rnd.IntN(g.customers),
		1 + g.rnd.IntN(g.people),
		g.at(day),
		int64(5*(1+g.rnd.IntN(18))) * 1_000_000,
		g.rnd.IntN(2),
		g.at(day - int32(g.rnd.IntN(12))),
	}
}
