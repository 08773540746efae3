package engine_test

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/schema"
)

// longDeals is very many deals of few different values.
type longDeals []map[string]string

func (m longDeals) Load(_ context.Context, b *column.Builder) error {
	if b.Type.Key != "deals" {
		return nil
	}
	for i, d := range m {
		b.Row(strconv.Itoa(i + 1))
		for k := range b.Type.Fields {
			if err := b.Set(k, d[b.Type.Fields[k].Key]); err != nil {
				return err
			}
		}
	}
	return nil
}

// The first rows of a long list are in the order in which all of it is, whichever are asked for first, and by how many at
// once.
func TestLongList(t *testing.T) {
	s, err := schema.New(schema.Settings{Currency: "EUR"})
	require.NoError(t, err)
	r := rand.New(rand.NewPCG(3, 4))
	list := make(longDeals, 70_000)
	for i := range list {
		list[i] = map[string]string{"name": fmt.Sprint("Deal ", r.IntN(300))}
		if r.IntN(9) > 0 {
			list[i]["value"] = strconv.Itoa(r.IntN(500))
		}
	}
	snap := column.NewSnapshot(s, list)
	const ordered = `{"version":1,"start":"deals","columns":[{"field":"value"}],"order":[{"field":"value","desc":true},{"field":"name"}]%s}`
	ask := func(more string) *engine.Records {
		l, err := engine.List(context.Background(), snap, bind(t, snap, fmt.Sprintf(ordered, more)), engine.Options{Today: today})
		require.NoError(t, err)
		return l
	}
	ids := func(l *engine.Records, from, to int) []string {
		page, err := l.Read(context.Background(), nil, from, to)
		require.NoError(t, err)
		return page.IDs
	}
	want := make([]string, len(list)) // plainly
	perm := make([]int, len(list))
	value := func(i int) int {
		v, err := strconv.Atoi(list[i]["value"])
		if err != nil {
			return math.MinInt
		}
		return v
	}
	for i := range perm {
		perm[i] = i
	}
	slices.SortFunc(perm, func(a, b int) int {
		if x, y := value(a), value(b); x != y {
			return cmp.Compare(y, x)
		}
		x, _ := strconv.Atoi(list[a]["name"][5:])
		y, _ := strconv.Atoi(list[b]["name"][5:])
		if x != y { // as texts
			if list[a]["name"] < list[b]["name"] {
				return -1
			}
			return 1
		}
		return a - b
	})
	for k, i := range perm {
		want[k] = strconv.Itoa(i + 1)
	}
	l := ask("")
	require.Equal(t, want[:200], ids(l, 0, 200))
	require.Equal(t, want[800:1000], ids(l, 800, 1000))
	require.Equal(t, want[900:1100], ids(l, 900, 1100), "past the first ones")
	require.Equal(t, want[69_900:], ids(l, 69_900, 80_000))
	require.Equal(t, want[:200], ids(l, 0, 200), "and again")
	all := ask("")
	require.Equal(t, want, ids(all, 0, math.MaxInt))
	require.Equal(t, want[:500], ids(ask(`,"limit":500`), 0, math.MaxInt))
	together := ask("")
	var wg sync.WaitGroup
	for range 4 {
		wg.Go(func() {
			for from := 0; from < len(list); from += 10_000 {
				page, err := together.Read(context.Background(), nil, from, from+50)
				if err != nil || !slices.Equal(want[from:from+50], page.IDs) {
					t.Errorf("from %d on: %v", from, err)
				}
			}
		})
	}
	wg.Wait()
	stopped, stop := context.WithCancel(context.Background())
	stop()
	given := ask("")
	_, err = given.Read(stopped, nil, 5000, 5010)
	require.ErrorIs(t, err, context.Canceled)
	require.Equal(t, want[5000:5010], ids(given, 5000, 5010), "who asks next is not held up by who gave up")
}
