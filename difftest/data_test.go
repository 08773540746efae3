// Package difftest asks the same random question of the engine and of SQLite, over the same random records, and
// compares every line. The translator to SQL, the calendar and the order of groups here are written anew and share
// nothing with core, so that a rule misread in one is not misread in the other.
package difftest

import (
	"context"
	"database/sql"
	"fmt"
	"math"
	"math/rand/v2"
	"sort"
	"strconv"
	"strings"
	"testing"
	"time"

	_ "github.com/mattn/go-sqlite3"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/cases"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// fld is a field as the oracle knows it.
type fld struct {
	key, kind, to string
	worked        bool
	choices       []string
	ordered       bool
}

// back is a link to many: the type and field that name the record.
type back struct{ key, typ, via string }

type typ struct {
	key    string
	fields []fld
	backs  []back
	owner  string
}

func (t *typ) field(key string) *fld {
	for i := range t.fields {
		if t.fields[i].key == key {
			return &t.fields[i]
		}
	}
	return nil
}

var settings = schema.Settings{Timezone: "Europe/Lisbon", WeekStart: "monday", FiscalMonth: 4, Currency: "EUR", Currencies: foreign,
	Stages: []schema.Stage{{Name: "Enquiry", Pipeline: "Projects", Status: "open"}, {Name: "Design", Pipeline: "Projects", Status: "open"},
		{Name: "Ordered", Pipeline: "Projects", Status: "won"}, {Name: "Not taken up", Pipeline: "Projects", Status: "lost"},
		{Name: "Due", Pipeline: "Care", Status: "open"}, {Name: "Renewed", Pipeline: "Care", Status: "won"}},
	Choices: map[string][]string{"customers.segment": {"Marina", "Harbour", "Ferry line"}, "deals.kind": {"Refit", "New build"}, "deals.source": {"Tender", "Repeat", "Web form"},
		"activities.kind": {"Call", "Site visit", "Letter"}, "activities.outcome": {"Reached", "No answer"}, "products.family": {"Pontoon", "Mooring"}},
	Ordered: []string{"deals.source"}}

// types are the record types that questions are asked over, by hand.
var types = []*typ{
	{key: "teams", fields: []fld{{key: "id", kind: "id"}, {key: "name", kind: "text"}}, backs: []back{{"people", "people", "team"}}},
	{key: "people", fields: []fld{{key: "id", kind: "id"}, {key: "name", kind: "text"}, {key: "team", kind: "link", to: "teams"}, {key: "active", kind: "yesno"}},
		backs: []back{{"customers", "customers", "owner"}, {"deals", "deals", "owner"}, {"activities", "activities", "owner"}}},
	{key: "customers", owner: "owner", fields: []fld{{key: "id", kind: "id"}, {key: "name", kind: "text"}, {key: "segment", kind: "choice", choices: settings.Choices["customers.segment"]}, {key: "size", kind: "number"},
		{key: "city", kind: "text"}, {key: "parent", kind: "link", to: "customers"}, {key: "top", kind: "link", to: "customers", worked: true}, {key: "owner", kind: "link", to: "people"}, {key: "created", kind: "time"}},
		backs: []back{{"deals", "deals", "customer"}, {"activities", "activities", "customer"}, {"children", "customers", "parent"}}},
	{key: "deals", owner: "owner", fields: []fld{{key: "id", kind: "id"}, {key: "name", kind: "text"}, {key: "customer", kind: "link", to: "customers"}, {key: "owner", kind: "link", to: "people"},
		{key: "kind", kind: "choice", choices: settings.Choices["deals.kind"]}, {key: "source", kind: "choice", choices: settings.Choices["deals.source"], ordered: true},
		{key: "stage", kind: "choice", ordered: true, choices: []string{"Enquiry", "Design", "Ordered", "Not taken up", "Due", "Renewed"}},
		{key: "pipeline", kind: "choice", ordered: true, worked: true, choices: []string{"Projects", "Care"}}, {key: "status", kind: "choice", ordered: true, worked: true, choices: []string{"open", "won", "lost"}},
		{key: "value", kind: "money"}, {key: "currency", kind: "choice", ordered: true, choices: []string{"EUR", "NOK", "SEK"}}, {key: "likelihood", kind: "percent"}, {key: "weighted", kind: "money", worked: true}, {key: "expected_close", kind: "date"}, {key: "closed", kind: "date"},
		{key: "cycle_days", kind: "number", worked: true}, {key: "created", kind: "time"}},
		backs: []back{{"lines", "lines", "deal"}, {"activities", "activities", "deal"}}},
	{key: "products", fields: []fld{{key: "id", kind: "id"}, {key: "name", kind: "text"}, {key: "family", kind: "choice", choices: settings.Choices["products.family"]}, {key: "price", kind: "money"}, {key: "currency", kind: "choice", ordered: true, choices: []string{"EUR", "NOK", "SEK"}}},
		backs: []back{{"lines", "lines", "product"}}},
	{key: "lines", fields: []fld{{key: "id", kind: "id"}, {key: "deal", kind: "link", to: "deals"}, {key: "product", kind: "link", to: "products"}, {key: "quantity", kind: "number"}, {key: "amount", kind: "money"}}},
	{key: "activities", owner: "owner", fields: []fld{{key: "id", kind: "id"}, {key: "kind", kind: "choice", choices: settings.Choices["activities.kind"]}, {key: "outcome", kind: "choice", choices: settings.Choices["activities.outcome"]},
		{key: "subject", kind: "text"}, {key: "deal", kind: "link", to: "deals"}, {key: "customer", kind: "link", to: "customers"}, {key: "owner", kind: "link", to: "people"}, {key: "happens", kind: "time"},
		{key: "minutes", kind: "number"}, {key: "done", kind: "yesno"}}},
}

func typeOf(key string) *typ {
	for _, t := range types {
		if t.key == key {
			return t
		}
	}
	return nil
}

var lisbon = func() *time.Location {
	loc, err := time.LoadLocation(settings.Timezone)
	if err != nil {
		panic(err)
	}
	return loc
}()

const today = "2026-05-14"

// world is random records: by type, by id, the fields' CSV forms.
type world struct {
	ids  map[string][]string
	vals map[string]map[string]map[string]string
	db   *sql.DB
	// Amounts are in several currencies where it is foreign, and converted by rates known on a day, those of rated by other
	// dates than ratedBy.
	foreign bool
	rates   []rate
	rated   map[string][]string
	day     string
}

var texts = []string{"Ärger", "ärger", "straße", "STRASSE", "Éider", "quay, long", "a \"b\"", "Zoë", "zoe", "ﬁn", "Fin", " lead", "ΣΑΣ", "σας", "100%", "Ünder_", "ok"}

func newWorld(t *testing.T, seed uint64) *world {
	t.Helper()
	r := rand.New(rand.NewPCG(seed, 7))
	w := &world{ids: map[string][]string{}, vals: map[string]map[string]map[string]string{}, foreign: seed%4 > 0}
	if w.foreign {
		w.rates = newRates(r, false)
		w.rated = []map[string][]string{nil, {"deals": {"created"}}, {"deals": {}, "lines": {"deal.created"}}}[r.IntN(3)]
	}
	sizes := map[string]int{"teams": 3, "people": 6, "customers": 14, "deals": 40, "products": 5, "lines": 60, "activities": 90}
	for _, ty := range types {
		w.vals[ty.key] = map[string]map[string]string{}
		for i := range sizes[ty.key] {
			id := strconv.Itoa(i + 1)
			if r.IntN(6) == 0 {
				id = string(rune('A'+i%26)) + strconv.Itoa(i)
			}
			w.ids[ty.key] = append(w.ids[ty.key], id)
			w.vals[ty.key][id] = map[string]string{"id": id}
		}
		w.ids[ty.key] = ordered(w.ids[ty.key])
	}
	for _, ty := range types {
		for _, id := range w.ids[ty.key] {
			for _, f := range ty.fields {
				if f.kind == "id" || f.worked || r.IntN(7) == 0 {
					continue
				}
				w.vals[ty.key][id][f.key] = w.random(r, f)
			}
		}
	}
	w.fill(t)
	return w
}

// edges are instants around the days and the summer times of Lisbon.
var edges = []string{"2026-03-28T23:59:59Z", "2026-03-29T00:00:00Z", "2026-03-29T01:00:00Z", "2025-10-25T23:30:00Z", "2025-10-26T00:30:00Z", "2026-05-13T23:00:00Z", "2026-05-13T22:59:59Z", "2026-05-14T22:59:59Z", "2026-05-14T23:00:00Z", "2025-12-31T23:59:59Z", "2024-02-29T12:00:00Z"}

func (w *world) random(r *rand.Rand, f fld) string {
	if f.key == "currency" && !w.foreign {
		return "EUR"
	}
	switch f.kind {
	case "text":
		if r.IntN(3) == 0 {
			return texts[r.IntN(len(texts))]
		}
		return []string{"Gullness", "Kelpwick", "Ternbay"}[r.IntN(3)] + []string{"", " quay", " Marina"}[r.IntN(3)]
	case "choice":
		if r.IntN(12) == 0 && f.key != "stage" && f.key != "currency" {
			return "Unlisted"
		}
		return f.choices[r.IntN(len(f.choices))]
	case "number":
		return strconv.FormatFloat(float64(r.IntN(60)-10)/2, 'f', -1, 64)
	case "percent":
		return strconv.Itoa(r.IntN(21) * 5)
	case "money":
		return strconv.FormatFloat(float64(r.IntN(400)-60)*25.25, 'f', 2, 64)
	case "date":
		return base().AddDate(0, 0, r.IntN(900)-700).Format("2006-01-02")
	case "time":
		if r.IntN(3) == 0 {
			return edges[r.IntN(len(edges))]
		}
		return base().AddDate(0, 0, r.IntN(800)-760).Add(time.Duration(r.IntN(86400)) * time.Second).UTC().Format(time.RFC3339)
	case "yesno":
		return []string{"true", "false"}[r.IntN(2)]
	}
	if r.IntN(15) == 0 {
		return "404" // a record that is not there
	}
	list := w.ids[f.to]
	return list[r.IntN(len(list))]
}

func base() time.Time {
	t, _ := time.ParseInLocation("2006-01-02", today, time.UTC)
	return t
}

// ordered sorts ids: whole numbers by value, then the others by code point.
func ordered(ids []string) []string {
	out := append([]string{}, ids...)
	sort.Slice(out, func(i, j int) bool {
		a, errA := strconv.Atoi(out[i])
		b, errB := strconv.Atoi(out[j])
		if (errA == nil) != (errB == nil) {
			return errA == nil
		}
		if errA == nil && a != b {
			return a < b
		}
		return out[i] < out[j]
	})
	return out
}

// link follows a link; "" where it leads nowhere.
func (w *world) link(ty, id, field string) string {
	to := typeOf(ty).field(field).to
	v := w.vals[ty][id][field]
	if _, ok := w.vals[to][v]; !ok {
		return ""
	}
	return v
}

func fold(s string) string { return cases.Fold().String(s) }

// worked works out a worked-out field, plainly.
func (w *world) worked(ty, id, key string) string {
	v := w.vals[ty][id]
	switch key {
	case "top":
		seen := map[string]bool{id: true}
		for at := id; ; {
			up := w.link(ty, at, "parent")
			if up == "" || seen[up] {
				return at
			}
			seen[up], at = true, up
		}
	case "pipeline", "status":
		for _, s := range settings.Stages {
			if s.Name == v["stage"] {
				if key == "status" {
					return s.Status
				}
				return s.Pipeline
			}
		}
		return ""
	case "weighted":
		a, errA := strconv.ParseFloat(v["value"], 64)
		b, errB := strconv.ParseFloat(v["likelihood"], 64)
		if errA != nil || errB != nil {
			return ""
		}
		// Money is a multiple of 0.25 and likelihood of 5 here, so that this is exact in floats.
		cents := a * 100 * b / 100
		return strconv.FormatFloat(math.Copysign(math.Floor(math.Abs(cents)+0.5), cents)/100, 'f', 2, 64)
	}
	if v["created"] == "" || v["closed"] == "" {
		return ""
	}
	from, _ := time.Parse("2006-01-02", localDay(v["created"]))
	to, _ := time.Parse("2006-01-02", v["closed"])
	return strconv.Itoa(int(to.Sub(from).Hours() / 24))
}

func localDay(instant string) string {
	at, _ := time.Parse(time.RFC3339, instant)
	return at.In(lisbon).Format("2006-01-02")
}

// fill puts the records into SQLite: money in cents, numbers as reals, dates as text, times as seconds with their local
// day and hour beside them, folded text beside text, links that lead nowhere as nothing.
func (w *world) fill(t *testing.T) {
	t.Helper()
	var err error
	w.db, err = sql.Open("sqlite3", ":memory:")
	require.NoError(t, err)
	w.db.SetMaxOpenConns(1)
	t.Cleanup(func() { _ = w.db.Close() })
	exec := func(q string, args ...any) {
		_, err := w.db.Exec(q, args...)
		require.NoError(t, err, q)
	}
	for _, ty := range types {
		cols := []string{"id TEXT PRIMARY KEY", "ord INTEGER"}
		for _, f := range ty.fields[1:] {
			cols = append(cols, f.key, f.key+"_day", f.key+"_hour", f.key+"_f")
		}
		exec("CREATE TABLE " + ty.key + " (" + strings.Join(cols, ", ") + ")")
		for ord, id := range w.ids[ty.key] {
			names, marks, args := []string{"id", "ord"}, "?, ?", []any{id, ord}
			for _, f := range ty.fields[1:] {
				text := w.vals[ty.key][id][f.key]
				if f.worked {
					text = w.worked(ty.key, id, f.key)
				}
				if f.kind == "link" && !f.worked {
					text = w.link(ty.key, id, f.key)
				}
				if f.key == "currency" {
					text = or(text, "EUR") // what says none is in the organisation's
				}
				if text == "" {
					continue
				}
				kept := stored(f.kind, text)
				if f.kind == "money" {
					cents, rated := w.converted(ty.key, id, text)
					if !rated {
						continue
					}
					kept = cents
				}
				names, marks, args = append(names, f.key), marks+", ?", append(args, kept)
				switch f.kind {
				case "time":
					at, _ := time.Parse(time.RFC3339, text)
					names, marks = append(names, f.key+"_day", f.key+"_hour"), marks+", ?, ?"
					args = append(args, localDay(text), at.In(lisbon).Hour())
				case "text", "choice":
					names, marks, args = append(names, f.key+"_f"), marks+", ?", append(args, fold(text))
				}
			}
			exec("INSERT INTO "+ty.key+" ("+strings.Join(names, ", ")+") VALUES ("+marks+")", args...)
		}
	}
}

func stored(kind, text string) any {
	switch kind {
	case "money", "number", "percent":
		f, _ := strconv.ParseFloat(text, 64)
		if kind == "money" {
			return int64(math.Round(f * 100))
		}
		return f
	case "time":
		at, _ := time.Parse(time.RFC3339, text)
		return at.Unix()
	case "yesno":
		if text == "true" {
			return 1
		}
		return 0
	}
	return text
}

// Load gives the same records to the engine; world is a column.Source.
func (w *world) Load(_ context.Context, b *column.Builder) error {
	if b.Type.Rates {
		return w.loadRates(b)
	}
	for _, id := range w.ids[b.Type.Key] {
		b.Row(id)
		for i := range b.Type.Fields {
			if text := w.vals[b.Type.Key][id][b.Type.Fields[i].Key]; text != "" {
				if err := b.Set(i, text); err != nil {
					return fmt.Errorf("%s %s: %w", b.Type.Key, id, err)
				}
			}
		}
	}
	return nil
}
