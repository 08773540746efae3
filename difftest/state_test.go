package difftest

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// change is one change of the history, as changes.csv has it.
type change struct {
	id                          int
	typ, record, field, was, is string
	at                          time.Time
}

// past is a world with a history: what was deleted, and all changes.
type past struct {
	*world
	gone    map[string]map[string]map[string]string
	changes []change
}

// newPast makes a world with a history: changes of all sorts around some days, many of one record, of one moment, records
// that were deleted, and brought back.
func newPast(t *testing.T, seed uint64) *past {
	t.Helper()
	p := &past{world: newWorld(t, seed), gone: map[string]map[string]map[string]string{}}
	r := rand.New(rand.NewPCG(seed, 11))
	ids := r.Perm(5000)
	add := func(typ, record, field, was, is string, at time.Time) {
		p.changes = append(p.changes, change{ids[len(p.changes)] + 1, typ, record, field, was, is, at})
	}
	moment := func() time.Time {
		if r.IntN(5) == 0 {
			at, err := time.Parse(time.RFC3339, edges[r.IntN(len(edges))])
			require.NoError(t, err)
			return at
		}
		return base().AddDate(0, 0, -r.IntN(90)).Add(time.Duration(r.IntN(1440)) * time.Minute).UTC()
	}
	for _, ty := range types {
		if ty.key == "people" || ty.key == "teams" {
			continue
		}
		p.gone[ty.key] = map[string]map[string]string{}
		for _, id := range slices.Clone(p.ids[ty.key]) {
			switch r.IntN(12) {
			case 0, 1: // deleted; now and then nobody wrote down when
				p.gone[ty.key][id] = p.vals[ty.key][id]
				delete(p.vals[ty.key], id)
				p.ids[ty.key] = slices.DeleteFunc(p.ids[ty.key], func(x string) bool { return x == id })
				if r.IntN(8) > 0 {
					add(ty.key, id, "deleted", "", "true", moment())
				}
			case 2: // deleted and brought back
				at := moment()
				add(ty.key, id, "deleted", "", "true", at)
				add(ty.key, id, "deleted", "true", "", at.Add(time.Duration(r.IntN(20*24))*time.Hour))
			}
			for range r.IntN(4) {
				f := ty.fields[1+r.IntN(len(ty.fields)-1)]
				if f.worked || f.key == "created" {
					continue
				}
				was := p.random(r, f)
				if r.IntN(6) == 0 {
					was = ""
				}
				add(ty.key, id, f.key, was, p.random(r, f), moment())
			}
		}
	}
	require.NoError(t, p.db.Close())
	p.fill(t)
	return p
}

// state is the world as it was when a day ended, worked out plainly: the latest changes are taken back first.
func (p *past) state(t *testing.T, day string) *world {
	t.Helper()
	end := date(day).AddDate(0, 0, 1)
	at := time.Date(end.Year(), end.Month(), end.Day(), 0, 0, 0, 0, lisbon)
	w := &world{
		ids: map[string][]string{}, vals: map[string]map[string]map[string]string{}, foreign: p.foreign, rates: p.rates, rated: p.rated, day: day,
	}
	for _, ty := range types {
		w.vals[ty.key] = map[string]map[string]string{}
		for id, v := range p.vals[ty.key] {
			w.vals[ty.key][id] = maps.Clone(v)
		}
		for id, v := range p.gone[ty.key] {
			w.vals[ty.key][id] = maps.Clone(v)
			w.vals[ty.key][id]["deleted"] = "true"
		}
	}
	list := slices.Clone(p.changes)
	slices.SortFunc(list, func(a, b change) int {
		if c := b.at.Compare(a.at); c != 0 {
			return c
		}
		return b.id - a.id
	})
	for _, c := range list {
		if v := w.vals[c.typ][c.record]; v != nil && !c.at.Before(at) {
			v[c.field] = c.was
		}
	}
	for _, ty := range types {
		for id, v := range w.vals[ty.key] {
			created, err := time.Parse(time.RFC3339, v["created"])
			if v["deleted"] == "true" || (err == nil && !created.Before(at)) {
				delete(w.vals[ty.key], id)
				continue
			}
			w.ids[ty.key] = append(w.ids[ty.key], id)
		}
		w.ids[ty.key] = ordered(w.ids[ty.key])
	}
	w.fill(t)
	return w
}

// Load gives records and the history to the engine.
func (p *past) Load(ctx context.Context, b *column.Builder) error {
	if b.Type.Key != "changes" {
		return p.world.Load(ctx, b)
	}
	for _, c := range p.changes {
		b.Row(strconv.Itoa(c.id))
		for i, f := range b.Type.Fields {
			text := map[string]string{
				"record_type": c.typ, "record": c.record, "field": c.field, "from": c.was, "to": c.is,
				"at": c.at.Format(time.RFC3339),
			}[f.Key]
			if err := b.Set(i, text); err != nil {
				return err
			}
		}
	}
	return nil
}

// LoadDeleted gives what was deleted.
func (p *past) LoadDeleted(_ context.Context, b *column.Builder) error {
	w := &world{ids: map[string][]string{}, vals: p.gone}
	for id := range p.gone[b.Type.Key] {
		w.ids[b.Type.Key] = append(w.ids[b.Type.Key], id)
	}
	return w.Load(context.Background(), b)
}

// days are those that states are asked of.
func (m *maker) day() (any, string) {
	switch m.r.IntN(6) {
	case 0:
		return "last_week", "2026-05-10"
	case 1:
		return "last_month", "2026-04-30"
	case 2:
		n := m.r.IntN(14)
		return obj{"ago": n, "unit": "week"}, text(date(today).AddDate(0, 0, -7*n))
	case 3:
		return "yesterday", "2026-05-13"
	}
	day := text(date(today).AddDate(0, 0, -m.r.IntN(100)))
	return day, day
}

// TestStates asks random briefs of the states of random days, and of the same records replayed and asked by SQL.
func TestStates(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	seen, differ := map[string]int{}, 0
	for i := 0; i < *many/8; i++ {
		if i%25 == 0 {
			clear(formulas)
		}
		p := newPast(t, *seed*77+uint64(i/10))
		snap := column.NewSnapshot(s, p)
		m := &maker{r: rand.New(rand.NewPCG(*seed+5, uint64(i))), w: p.world, seen: seen}
		b, view := m.brief()
		as, day := m.day()
		reader := pick(m, p.ids["people"])
		w := p.world
		if day != today {
			w = p.state(t, day)
		}
		want := expected(t, w, b, view, reader)
		b["asOf"] = as
		data, err := json.Marshal(b)
		require.NoError(t, err)
		got, err := answer(snap, data, view, reader, seen)
		require.NoError(t, err, string(data))
		if diff := difference(want, got); diff != "" {
			t.Errorf("brief %d (seed %d, %s, reader %s, %s) differs: %s\n%s", i, *seed, view, reader, day, diff, data)
			if differ++; differ > 4 {
				t.FailNow()
			}
		}
	}
}

// ids are the numbers that a brief finds, by SQL.
func foundBySQL(t *testing.T, w *world, b obj, reader string, more ...string) map[string][]string {
	t.Helper()
	one := obj{}
	maps.Copy(one, b)
	columns := []any{obj{"field": "id"}}
	for _, m := range more {
		columns = append(columns, obj{"field": m})
	}
	one["columns"] = columns
	for _, key := range []string{"order", "limit", "groups", "across", "summaries"} {
		delete(one, key)
	}
	out := map[string][]string{}
	for _, line := range expected(t, w, one, "records", reader)[1:] {
		out[line[0]] = line[1:]
	}
	return out
}

// TestMoves tells what moved between random days, and works the same out from the records of both days, each condition
// asked alone.
func TestMoves(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	seen, steps, differ := map[string]int{}, map[string]int{}, 0
	for i := 0; i < *many/8; i++ {
		if i%25 == 0 {
			clear(formulas)
		}
		p := newPast(t, *seed*91+uint64(i/10))
		m := &maker{r: rand.New(rand.NewPCG(*seed+9, uint64(i))), w: p.world, seen: seen}
		b, g := m.part()
		for b["bring"] != nil {
			b, g = m.part()
		}
		if m.chance(60) && g.typ.key == "deals" {
			if m.chance(60) { // all of them, so that some that were won are open again
				delete(b, "whose")
				delete(b, "period")
			}
			b["filter"] = obj{"all": []any{
				obj{"field": "status", "is": "any_of", "values": []any{"open"}},
				obj{"field": "value", "is": "over", "values": []any{"500"}},
			}}
		}
		b["version"] = 1
		m.w.money(b)
		sum := map[string]string{"deals": "value", "customers": "size", "lines": "amount", "activities": "minutes", "products": "price"}[g.typ.key]
		since, from := m.day()
		as, to := m.day()
		if from >= to {
			since, from, as, to = as, to, since, from
		}
		if from == to || sum == "" {
			continue
		}
		reader := pick(m, p.ids["people"])
		now := p.world
		if to != today {
			now = p.state(t, to)
		}
		want := movedPlainly(t, p.state(t, from), now, b, reader, sum, from)
		b["summaries"] = []any{obj{"key": "n", "fn": "count"}, obj{"key": "t", "fn": "sum", "of": sum}}
		b["since"], b["asOf"] = since, as
		data, err := json.Marshal(b)
		require.NoError(t, err)
		decoded, err := brief.Decode(data)
		require.NoError(t, err, string(data))
		bound, err := brief.Bind(decoded, s)
		require.NoError(t, err, string(data))
		day, err := period.ParseDay(today)
		require.NoError(t, err)
		moves, err := engine.RunMoves(context.Background(), column.NewSnapshot(s, p), bound, engine.Options{Today: day, Reader: reader})
		require.NoError(t, err, string(data))
		if by := movedBy[g.typ.key]; len(by) > 0 {
			requireBridges(t, s, p, b, pick(m, by), reader, day, steps)
		}
		got := moves.Lines().Rows
		total := 0.0
		for _, line := range got {
			step, _, _ := strings.Cut(line[0], ":")
			steps[step]++
			v, err := strconv.ParseFloat(line[3], 64)
			require.NoError(t, err)
			if line[0] == "now" {
				v = -v
			}
			total += v
		}
		require.InDelta(t, 0, total, 1e-6, "the steps lead from then to now")
		if diff := difference(want, got); diff != "" {
			t.Errorf("brief %d (seed %d, reader %s, %s to %s) differs: %s\n%s", i, *seed, reader, from, to, diff, data)
			if differ++; differ > 4 {
				t.FailNow()
			}
		}
	}
	t.Log(steps)
	for _, must := range []string{"new", "back", "reopened", "came", "grown", "shrunk", "rates", "same", "won", "lost", "went", "deleted", engine.MoveFrom, engine.MoveTo} {
		require.NotZero(t, steps[must], must)
	}
}

// movedBy are groups that what moved is cut up by.
var movedBy = map[string][]string{
	"deals": {"stage", "owner", "customer.segment", "kind"}, "customers": {"segment", "owner"}, "activities": {"kind", "owner", "deal"},
	"lines": {"product", "deal.stage"}, "products": {"family"},
}

// requireBridges cuts what moved up by a group: each begins and ends at what the brief answers for it as of those days, its
// steps lead from one to the other, and all of them together to what moved in all.
func requireBridges(t *testing.T, s *schema.Schema, p *past, b obj, by, reader string, today int32, steps map[string]int) {
	t.Helper()
	grouped := obj{}
	for k, v := range b {
		grouped[k] = v
	}
	grouped["groups"] = []any{obj{"field": by}}
	run := func(change func(b *brief.Brief), do func(snap *column.Snapshot, b *brief.Bound, opts engine.Options)) {
		data, err := json.Marshal(grouped)
		require.NoError(t, err)
		decoded, err := brief.Decode(data)
		require.NoError(t, err, string(data))
		change(decoded)
		bound, err := brief.Bind(decoded, s)
		require.NoError(t, err, string(data))
		do(column.NewSnapshot(s, p), bound, engine.Options{Today: today, Reader: reader})
	}
	var bridges []engine.Bridge
	var whole *engine.Moves
	var since *brief.Moment
	run(func(b *brief.Brief) { since = b.Since }, func(snap *column.Snapshot, b *brief.Bound, opts engine.Options) {
		m, err := engine.RunMoves(context.Background(), snap, b, opts)
		require.NoError(t, err)
		whole = m
		bridges, err = m.Bridges(b)
		require.NoError(t, err)
	})
	ends := func(change func(b *brief.Brief)) map[string][2]string {
		out := map[string][2]string{}
		run(change, func(snap *column.Snapshot, b *brief.Bound, opts engine.Options) {
			r, err := engine.Run(context.Background(), snap, b, opts)
			require.NoError(t, err)
			for _, n := range r.Rows[0].Children {
				texts := r.CellTexts(n, 0, true)
				out[r.KeyOf(true, n)] = [2]string{texts[0], zero(texts[1])}
			}
		})
		return out
	}
	then := ends(func(b *brief.Brief) { b.AsOf, b.Since = since, nil })
	now := ends(func(b *brief.Brief) { b.Since = nil })
	all := exact.Num{}
	for _, br := range bridges {
		sum, last := exact.Num{}, len(br.Steps)-1
		for i, step := range br.Steps {
			if step.Step == engine.MoveFrom || step.Step == engine.MoveTo {
				steps[step.Step]++
			}
			if i > 0 && i < last {
				sum = sum.Add(step.Values[1])
			}
		}
		require.Zero(t, br.Steps[last].Values[1].Sub(br.Steps[0].Values[1]).Cmp(sum), "%s by %s: its steps", br.Key, by)
		all = all.Add(sum)
		for i, want := range []map[string][2]string{then, now} {
			step := br.Steps[i*last]
			if w, there := want[br.Key]; there {
				require.Equal(t, w[0], strconv.FormatInt(step.Records, 10), "%s by %s, records", br.Key, by)
				require.Equal(t, w[1], zero(whole.Text(1, step.Values[1])), "%s by %s, sum", br.Key, by)
			} else {
				require.Zero(t, step.Records, "%s by %s", br.Key, by)
			}
			delete(want, br.Key)
		}
	}
	require.Empty(t, then)
	require.Empty(t, now)
	last := len(whole.Steps) - 1
	require.Zero(t, whole.Steps[last].Values[1].Sub(whole.Steps[0].Values[1]).Cmp(all), "all groups together")
}

// zero is an amount as it is compared: nothing is 0, however it is written.
func zero(text string) string {
	if n, ok := exact.Parse(text); ok {
		return n.String()
	}
	return "0"
}

// movedPlainly is what moved, record by record.
func movedPlainly(t *testing.T, then, now *world, b obj, reader, sum, since string) [][]string {
	t.Helper()
	value := func(found map[string][]string, id string) float64 {
		if found[id] == nil {
			return 0
		}
		v, _ := strconv.ParseFloat(found[id][0], 64)
		return v
	}
	foundThen, foundNow := foundBySQL(t, then, b, reader, sum), foundBySQL(t, now, b, reader, sum)
	typ := b["start"].(string)
	// Each condition alone, with its name; own fields go with each.
	type alone struct {
		name   string
		staged bool
		brief  obj
	}
	var list []alone
	with := func(member string, is any) obj {
		one := obj{"version": 1, "start": typ}
		if b["own"] != nil {
			one["own"] = b["own"]
		}
		one[member] = is
		return one
	}
	if b["whose"] != nil {
		list = append(list, alone{"whose", false, with("whose", b["whose"])})
	}
	if b["period"] != nil {
		list = append(list, alone{"period", false, with("period", b["period"])})
	}
	if f, ok := b["filter"].(obj); ok {
		conds := []any{f}
		if all, ok := f["all"].([]any); ok {
			conds = all
		}
		for i, c := range conds {
			field, _ := c.(obj)["field"].(string)
			list = append(list, alone{strconv.Itoa(i + 1), typ == "deals" && slices.Contains([]string{"stage", "status", "pipeline"}, field), with("filter", c)})
		}
	}
	met := func(w *world) []map[string][]string {
		var out []map[string][]string
		for _, a := range list {
			out = append(out, foundBySQL(t, w, a.brief, reader))
		}
		return out
	}
	metThen, metNow := met(then), met(now)
	lacks := func(met []map[string][]string, id string) alone {
		for k, m := range met {
			if m[id] == nil {
				return list[k]
			}
		}
		return alone{name: "1"}
	}
	status := func(w *world, id string) string {
		if typ != "deals" {
			return ""
		}
		return w.worked("deals", id, "status")
	}
	records, counts, sums := map[string]int{}, map[string]int{}, map[string]float64{}
	put := func(step string, n int, v float64) {
		records[step]++
		counts[step] += n
		sums[step] += v
	}
	end := date(since).AddDate(0, 0, 1)
	for id := range foundNow {
		put("now", 1, value(foundNow, id))
		_, there := then.vals[typ][id]
		switch d := value(foundNow, id) - value(foundThen, id); {
		case foundThen[id] != nil && d != 0 && then.vals[typ][id][sum] == now.vals[typ][id][sum] && then.currency(typ, id) == now.currency(typ, id):
			put("rates", 0, d)
		case foundThen[id] != nil && d > 0:
			put("grown", 0, d)
		case foundThen[id] != nil && d < 0:
			put("shrunk", 0, d)
		case foundThen[id] != nil:
			put("same", 0, 0)
		case there:
			a := lacks(metThen, id)
			if s := status(then, id); a.staged && (s == "won" || s == "lost") {
				put("reopened", 1, d)
			} else {
				put("came:"+a.name, 1, d)
			}
		case now.vals[typ][id]["created"] != "" && localDay(now.vals[typ][id]["created"]) >= text(end):
			put("new", 1, d)
		default:
			put("back", 1, d)
		}
	}
	for id := range foundThen {
		put("then", 1, value(foundThen, id))
		if foundNow[id] != nil {
			continue
		}
		d := -value(foundThen, id)
		if _, there := now.vals[typ][id]; !there {
			put("deleted", -1, d)
			continue
		}
		a := lacks(metNow, id)
		if s := status(now, id); a.staged && (s == "won" || s == "lost") {
			put(s, -1, d)
		} else {
			put("went:"+a.name, -1, d)
		}
	}
	order := []string{"then", "new", "back", "reopened", "came:whose", "came:period"}
	for i := range 9 {
		order = append(order, fmt.Sprintf("came:%d", i+1))
	}
	order = append(order, "grown", "shrunk", "rates", "same", "won", "lost", "went:whose", "went:period")
	for i := range 9 {
		order = append(order, fmt.Sprintf("went:%d", i+1))
	}
	var out [][]string
	for _, step := range append(order, "deleted", "now") {
		if records[step] > 0 || step == "then" || step == "now" {
			out = append(out, []string{step, strconv.Itoa(records[step]), strconv.Itoa(counts[step]), strconv.FormatFloat(sums[step], 'f', -1, 64)})
		}
	}
	return out
}

// TestOver asks how random briefs stood at the ends of random days all at once, and of each day by itself.
func TestOver(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	seen, swept, asked, grouped := map[string]int{}, 0, 0, 0
	today, err := period.ParseDay(today)
	require.NoError(t, err)
	for i := 0; i < *many/8; i++ {
		if i%25 == 0 {
			clear(formulas)
		}
		p := newPast(t, *seed*57+uint64(i/10))
		r := rand.New(rand.NewPCG(*seed+13, uint64(i)))
		if i%3 == 0 && p.foreign { // some days are without a rate
			p.rates = newRates(r, true)
		}
		m := &maker{r: r, w: p.world, seen: seen}
		b, g := m.part()
		for b["bring"] != nil {
			b, g = m.part()
		}
		if m.chance(60) { // mostly what can be swept
			b = obj{"start": pick(m, []string{"deals", "deals", "activities", "products"})}
			g = &ground{typ: typeOf(b["start"].(string))}
			switch b["start"] {
			case "deals":
				b["filter"] = pick(m, []any{nil, obj{"field": "status", "is": "any_of", "values": []any{"open"}}, obj{"any": []any{
					obj{"field": "kind", "is": "any_of", "values": []any{"Refit"}}, obj{"not": obj{"field": "owner.team", "is": "filled"}}}}})
				b["period"] = pick(m, []any{nil, obj{"field": "expected_close", "within": "this_year"}})
			case "activities":
				b["whose"] = pick(m, []any{nil, "mine", "team"})
			}
			for k, v := range b {
				if v == nil {
					delete(b, k)
				}
			}
		}
		b["version"] = 1
		m.w.money(b)
		sum := map[string]string{"deals": pick(m, []string{"value", "weighted", "cycle_days"}), "customers": "size", "lines": "amount", "activities": "minutes", "products": "price"}[g.typ.key]
		sums := []any{obj{"key": "n", "fn": "count"}}
		if sum != "" {
			one := obj{"key": "t", "fn": "sum", "of": sum}
			if g.typ.key == "deals" && m.chance(30) {
				one["where"] = obj{"field": "kind", "is": "any_of", "values": []any{"Refit"}}
			}
			sums = append(sums, one)
		}
		b["summaries"] = sums
		by := pick(m, append([]string{""}, movedBy[g.typ.key]...))
		if by == "deal" || by == "product" { // whose names are others on other days
			by = ""
		}
		if by != "" {
			b["groups"] = []any{obj{"field": by}}
			grouped++
		}
		var days []int32
		for day := today - int32(m.r.IntN(90)); day <= today; day += int32(1 + m.r.IntN(20)) {
			days = append(days, day)
		}
		reader := pick(m, p.ids["people"])
		snap := column.NewSnapshot(s, p)
		bind := func(b obj) *brief.Bound {
			data, err := json.Marshal(b)
			require.NoError(t, err)
			decoded, err := brief.Decode(data)
			require.NoError(t, err, string(data))
			bound, err := brief.Bind(decoded, s)
			require.NoError(t, err, string(data))
			return bound
		}
		o, err := engine.RunOver(context.Background(), snap, bind(b), engine.Options{Today: today, Reader: reader}, days)
		require.NoError(t, err)
		if asked++; o.Swept {
			swept++
		}
		for k, day := range days {
			b["asOf"] = period.FormatDay(day)
			r, err := engine.Run(context.Background(), snap, bind(b), engine.Options{Today: today, Reader: reader})
			require.NoError(t, err)
			var want, got []string
			write := func(list *[]string, name string, cells []string) {
				for i := range cells {
					cells[i] = zero(cells[i])
				}
				*list = append(*list, name+": "+strings.Join(cells, ", "))
			}
			write(&want, "all", r.Totals().Rows[0])
			if by != "" {
				for _, line := range r.Summary().Rows {
					write(&want, "of "+line[0], line[1:])
				}
			}
			for _, l := range o.Lines {
				cells := []string{strconv.FormatInt(l.Records[k], 10)}
				for i, v := range l.Values[1:] {
					text := v[k].String()
					if o.Summaries[i+1].Kind == schema.Money {
						text = v[k].Fixed(2)
					}
					cells = append(cells, text)
				}
				switch {
				case l.Key == engine.AllLine:
					write(&got, "all", cells)
				case l.Records[k] > 0:
					write(&got, "of "+l.Member.Label, cells)
				}
			}
			slices.Sort(want)
			slices.Sort(got)
			require.Equal(t, want, got, "swept %v: %v", o.Swept, b)
		}
	}
	t.Logf("%d of %d swept, %d grouped", swept, asked, grouped)
	require.Greater(t, swept, asked/4)
	require.Greater(t, asked-swept, asked/10)
}
