package column_test

import (
	"context"
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// A vector holds what was put into it, whatever widths its values need, and changing one value leaves older ones alone.
func TestInts(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		unit := rapid.SampledFrom([]int64{1, column.Micro}).Draw(t, "unit")
		one := func(name string) int64 {
			switch rapid.IntRange(0, 4).Draw(t, name) {
			case 0:
				return column.Null
			case 1:
				return rapid.Int64Range(0, 254).Draw(t, "small") * unit
			case 2:
				return rapid.Int64Range(math.MinInt32+1, math.MaxInt32).Draw(t, "middle")
			case 3:
				return rapid.Int64Range(math.MinInt64+1, math.MaxInt64).Draw(t, "large")
			}
			return rapid.Int64Range(-300, 300).Draw(t, "near")
		}
		s := column.NewInts(unit)
		var want []int64
		for range rapid.IntRange(1, 60).Draw(t, "n") {
			v := one("kind")
			s.Append(v)
			want = append(want, v)
		}
		check := func(s *column.Ints, want []int64) {
			require.Equal(t, len(want), s.Len())
			got := make([]int64, len(want))
			s.Run(0, got)
			require.Equal(t, want, got)
			for i, v := range want {
				require.Equal(t, v, s.At(int32(i)))
			}
			picked := make([]int64, 2)
			s.Gather([]int32{-1, int32(len(want) - 1)}, picked)
			require.Equal(t, []int64{column.Null, want[len(want)-1]}, picked)
		}
		check(s, want)
		at := rapid.IntRange(0, len(want)).Draw(t, "at")
		v := one("new")
		changed := append([]int64{}, want...)
		if at == len(want) {
			changed = append(changed, v)
		} else {
			changed[at] = v
		}
		check(s.With(int32(at), v), changed)
		check(s, want)
	})
}

// Vectors longer than a chunk read the same in a run, by index and gathered.
func TestIntsAcrossChunks(t *testing.T) {
	s := column.NewInts(1)
	const n = 40_000
	for i := range int64(n) {
		s.Append(i * 3)
	}
	run := make([]int64, 20_000)
	s.Run(10_000, run)
	for i, v := range run {
		require.EqualValues(t, (10_000+i)*3, v)
	}
	next := s.With(16_384, -1).With(n, 7)
	require.EqualValues(t, -1, next.At(16_384))
	require.EqualValues(t, 16_385*3, next.At(16_385))
	require.EqualValues(t, 7, next.At(n))
	require.EqualValues(t, 16_384*3, s.At(16_384))
	require.Equal(t, n, s.Len())
}

type lines map[string]string

func (l lines) Load(_ context.Context, b *column.Builder) error {
	for i, line := range strings.Split(strings.TrimSpace(l[b.Type.Key]), "\n") {
		cells := strings.Split(line, ",")
		if i == 0 || line == "" {
			continue
		}
		b.Row(cells[0])
		for k, key := range strings.Split(strings.SplitN(l[b.Type.Key], "\n", 2)[0], ",") {
			for f := range b.Type.Fields {
				if b.Type.Fields[f].Key == key {
					if err := b.Set(f, cells[k]); err != nil {
						return err
					}
				}
			}
		}
	}
	return nil
}

func open(t *testing.T, l lines) *column.Snapshot {
	t.Helper()
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", Stages: []schema.Stage{{Name: "Enquiry", Pipeline: "Projects", Status: "open"}, {Name: "Ordered", Pipeline: "Projects", Status: "won"}}})
	require.NoError(t, err)
	return column.NewSnapshot(s, l)
}

func texts(t *testing.T, s *column.Snapshot, typ, field string) []string {
	t.Helper()
	table, err := s.Table(typ)
	require.NoError(t, err)
	c, err := s.Column(typ, field)
	require.NoError(t, err)
	var out []string
	for r := range int32(table.N) {
		out = append(out, s.Text(c, c.At(r), table))
	}
	return out
}

// Worked-out fields: topmost parents end before a circle repeats, weighted rounds half away from zero to a cent, days
// count from the local day.
func TestWorkedFields(t *testing.T) {
	s := open(t, lines{
		"customers": "id,name,parent\n1,A,2\n2,B,3\n3,C,\n4,D,5\n5,E,4\n6,F,6\n7,G,99",
		"deals":     "id,stage,value,likelihood,created,closed\n1,Ordered,0.05,50,2026-03-01T23:30:00Z,2026-03-03\n2,Enquiry,-0.05,50,,\n3,Gone,,50,2026-07-01T23:30:00Z,2026-07-03\n4,,10,,2026-01-01T00:00:00Z,2025-12-31",
	})
	require.Equal(t, []string{"3", "3", "3", "5", "4", "6", "7"}, texts(t, s, "customers", "top"))
	require.Equal(t, []string{"2", "3", "", "5", "4", "6", ""}, texts(t, s, "customers", "parent"), "a link to nobody is empty")
	require.Equal(t, []string{"0.03", "-0.03", "", ""}, texts(t, s, "deals", "weighted"))
	require.Equal(t, []string{"2", "", "1", "-1"}, texts(t, s, "deals", "cycle_days"))
	require.Equal(t, []string{"won", "open", "", ""}, texts(t, s, "deals", "status"))
	require.Equal(t, []string{"Projects", "Projects", "", ""}, texts(t, s, "deals", "pipeline"))
}

// A link back lists the records that name a record, in the order of their ids.
func TestMany(t *testing.T) {
	s := open(t, lines{"customers": "id,name\n1,A\n2,B\nx,C", "deals": "id,customer\n10,x\n9,1\nA,x\n2,1\n3,"})
	m, err := s.Many("customers", "deals")
	require.NoError(t, err)
	deals, err := s.Table("deals")
	require.NoError(t, err)
	var got []string
	for r := range int32(3) {
		for _, d := range m.Of(r) {
			got = append(got, fmt.Sprint(r)+":"+deals.IDs.At(d))
		}
	}
	require.Equal(t, []string{"0:2", "0:9", "2:10", "2:A"}, got)
	_, err = s.Many("customers", "lines")
	require.Error(t, err)
}

// Edits give a new snapshot; a new id must come after the others.
func TestApply(t *testing.T) {
	s := open(t, lines{"people": "id,name\n1,Maite\n2,Runa", "deals": "id,name,owner,stage,value,likelihood\n1,Gangway,1,Enquiry,100,50\n2,Quay,2,Ordered,10,100"})
	require.Equal(t, []string{"50.00", "10.00"}, texts(t, s, "deals", "weighted"))
	next, err := s.Apply([]column.Edit{{Type: "deals", ID: "1", Values: map[string]string{"value": "30", "owner": "2", "stage": "Ordered"}}, {Type: "deals", ID: "7", New: true, Values: map[string]string{"name": "New", "owner": "2"}}})
	require.NoError(t, err)
	require.Equal(t, []string{"15.00", "10.00", ""}, texts(t, next, "deals", "weighted"))
	require.Equal(t, []string{"won", "won", ""}, texts(t, next, "deals", "status"))
	m, err := next.Many("people", "deals")
	require.NoError(t, err)
	require.Len(t, m.Of(1), 3)
	require.Equal(t, []string{"50.00", "10.00"}, texts(t, s, "deals", "weighted"), "the older snapshot stays")
	require.Equal(t, []string{"open", "won"}, texts(t, s, "deals", "status"))
	_, err = s.Apply([]column.Edit{{Type: "deals", ID: "0", New: true}})
	require.Error(t, err)
	_, err = s.Apply([]column.Edit{{Type: "deals", ID: "9"}})
	require.Error(t, err)
}

// Edits of one snapshot that are applied twice, as where the first write was not kept, know nothing of each other, nor
// does what goes on from either.
func TestApplyTwice(t *testing.T) {
	s := open(t, lines{"people": "id,name\n1,Maite", "deals": "id,name,value\n1,Gangway,100\n2,Quay,10"})
	_, err := s.Table("deals")
	require.NoError(t, err)
	made := func(s *column.Snapshot, id, value string) *column.Snapshot {
		next, err := s.Apply([]column.Edit{{Type: "deals", ID: id, New: true, Values: map[string]string{"value": value}}})
		require.NoError(t, err)
		return next
	}
	one := made(made(s, "100", "1"), "101", "2")
	other := made(made(s, "200", "3"), "201", "4")
	third := made(one, "300", "5")
	for i, want := range []struct {
		s   *column.Snapshot
		ids []string
	}{{one, []string{"100", "101"}}, {other, []string{"200", "201"}}, {third, []string{"100", "101", "300"}}} {
		table, err := want.s.Table("deals")
		require.NoError(t, err)
		var ids []string
		for row := table.N - len(want.ids); row < table.N; row++ {
			ids = append(ids, table.IDs.At(int32(row)))
		}
		require.Equal(t, want.ids, ids, i)
	}
}

// Two halves joined are the whole.
func TestJoin(t *testing.T) {
	s := open(t, lines{})
	typ := s.Schema.Type("deals")
	half := func(from, to int) *column.Builder {
		b := column.NewBuilder(typ, s.Cal)
		for i := from; i < to; i++ {
			b.RowNumber(int64(i))
			require.NoError(t, b.Set(1, "Deal "+strconv.Itoa(i%3)))
			if i%2 == 0 {
				require.NoError(t, b.Set(2, strconv.Itoa(i)))
			}
		}
		return b
	}
	whole, left := half(1, 41), half(1, 20)
	left.Join(half(20, 41))
	a := column.NewSnapshot(s.Schema, given{whole})
	b := column.NewSnapshot(s.Schema, given{left})
	require.Equal(t, texts(t, a, "deals", "name"), texts(t, b, "deals", "name"))
	require.Equal(t, texts(t, a, "deals", "id"), texts(t, b, "deals", "id"))
}

// given hands out what a builder already has.
type given struct{ from *column.Builder }

func (g given) Load(_ context.Context, b *column.Builder) error {
	if b.Type.Key == "deals" {
		b.Join(g.from)
	}
	return nil
}

func TestFold(t *testing.T) {
	for _, pair := range [][2]string{{"STRASSE", "straße"}, {"ΣΑΣ", "σας"}, {"Ärger", "ÄRGER"}, {"ok", "OK"}} {
		require.Equal(t, column.Fold(pair[0]), column.Fold(pair[1]))
	}
	require.NotEqual(t, column.Fold("é"), column.Fold("e\u0301"), "texts are not normalised")
}

func TestContaining(t *testing.T) {
	d := column.NewDict("Eider", "no", "er ei", "Spider EIDER eider", "e")
	find := func(sub string) []string {
		marks := make([]bool, len(d.Values()))
		// In two stretches, as two workers would.
		d.Containing(sub, 0, 2, marks)
		d.Containing(sub, 2, len(marks), marks)
		var list []string
		for i, m := range marks {
			if m {
				list = append(list, d.Values()[i])
			}
		}
		return list
	}
	require.Equal(t, []string{"Eider", "Spider EIDER eider"}, find("eider"))
	require.Empty(t, find("rno"), "a match must not reach from one text into the next")
	d.Code("Großer Eider")
	require.Equal(t, []string{"Eider", "Spider EIDER eider", "Großer Eider"}, find("eider"), "texts that came later are found")
	require.Equal(t, []string{"Großer Eider"}, find("gross"))
}

// Whatever was looked for before, and however the texts grew since, what is marked is what contains the letters.
func TestMarkGoesOnFromBefore(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := column.NewDict()
		word := rapid.StringOfN(rapid.RuneFrom([]rune("abC ")), 1, 6, -1)
		for range rapid.IntRange(1, 12).Draw(t, "steps") {
			for range rapid.IntRange(0, 20).Draw(t, "more") {
				d.Code(word.Draw(t, "text"))
			}
			sub := column.Fold(word.Draw(t, "sub"))
			for end := range len(sub) {
				n := len(d.Values())
				if n > 0 && rapid.Bool().Draw(t, "an older look") {
					n = rapid.IntRange(0, n).Draw(t, "n")
				}
				want, got := make([]bool, n+1), make([]bool, n+1)
				for i, v := range d.Values()[:n] {
					want[i] = strings.Contains(column.Fold(v), sub[:end+1])
				}
				d.Mark(sub[:end+1], n, got, func(n int, do func(from, to int)) { do(0, n/2); do(n/2, n) })
				require.Equal(t, want, got)
			}
		}
	})
}

func TestWithinAndAmongAgreeWithReading(t *testing.T) {
	for _, values := range [][]int64{{0, 7, 200, column.Null, 254}, {-5, 70_000, column.Null, 3}, {1 << 40, -1 << 50, column.Null, 0}, {-200, 300, 1000, column.Null}} {
		unit := int64(1)
		if values[0] == -200 {
			unit = 100
		}
		v := column.NewInts(unit)
		for range 9000 { // past the end of a chunk
			for _, x := range values {
				v.Append(x)
			}
		}
		n := v.Len()
		marks := make([]bool, n-1)
		for _, span := range [][2]int64{{column.Null + 1, 1<<63 - 1}, {0, 0}, {-250, 299}, {4, 100_000}, {301, 999}, {5, 4}, {255, 300}} {
			v.Within(1, span[0], span[1], marks)
			for i, m := range marks {
				x := v.At(int32(i + 1))
				require.Equal(t, x != column.Null && x >= span[0] && x <= span[1], m, "%d in %v", x, span)
			}
		}
	}
	codes := column.NewInts(1)
	for i := range 40_000 {
		codes.Append([]int64{0, 1, column.Null, 2}[i%4])
	}
	marks := make([]bool, 30_000)
	require.True(t, codes.Among(5, []bool{true, false, true, false}, marks))
	for i, m := range marks {
		require.Equal(t, (i+5)%4 == 0 || (i+5)%4 == 3, m)
	}
}

// Records are found by their name: those written just so first, then those that differ in case or in spaces around.
func TestNamed(t *testing.T) {
	s := open(t, lines{"customers": "id,name\n1,Kelpwick\n2,KELPWICK\n3,Ternbay\n4, kelpwick \n5,Kelpwick"})
	require.Equal(t, []string{"1", "5", "2", "4"}, s.Named("customers", "Kelpwick"))
	require.Equal(t, []string{"4", "1", "2", "5"}, s.Named("customers", " kelpwick "))
	require.Empty(t, s.Named("customers", "Kelp"))
	require.Empty(t, s.Named("boats", "Kelpwick"), "a type that there is not has no records")
}

// What a snapshot holds grows as its columns are read, and says so.
func TestHolds(t *testing.T) {
	s := open(t, lines{"customers": "id,name\n1,Kelpwick\n2,Ternbay", "deals": "id,name,customer,value\n1,Quay,1,10\n2,Jetty,,20\n3,Buoy,2,"})
	require.Zero(t, s.Rows(), "nothing is read before it is asked for")
	require.Zero(t, s.Bytes())
	_, err := s.Column("deals", "value")
	require.NoError(t, err)
	require.Equal(t, 3, s.Rows())
	before := s.Bytes()
	require.Positive(t, before)
	_, err = s.Many("customers", "deals")
	require.NoError(t, err)
	require.Equal(t, 5, s.Rows())
	require.Greater(t, s.Bytes(), before)
	_, err = s.Column("deals", "colour")
	require.ErrorContains(t, err, `no field "colour"`)
	_, err = s.Column("boats", "name")
	require.Error(t, err)
	_, err = s.Many("boats", "deals")
	require.Error(t, err)
}
