package diary

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"uzzel/internal/answers"
	"uzzel/internal/lookup"
)

// Since is what others did about a record, and changed in it, since a person last looked at it.
type Since struct {
	At   int64  // seconds since 1970, 0 where they never did
	When string // for people
	News []Entry
}

// mostNews is how many entries are told of what is new.
const mostNews = 20

// Look notes that a person looks at a record and tells what others did since the visit before. Who sees as another sees
// nothing of that, and leaves no trace.
func (d *Diary) Look(ctx context.Context, v *answers.View, about Ref) (Since, error) {
	if _, _, _, err := lookup.Seen(v, about.Type, strconv.FormatInt(about.ID, 10)); err != nil || v.Who.SeenBy != 0 {
		return Since{}, err
	}
	at, err := d.store.Look(ctx, v.Who.ID, about.Type, about.ID)
	if err != nil || at == 0 {
		return Since{}, err
	}
	out := Since{At: at, When: when(v, at)}
	all, err := d.all(ctx, v, about)
	if err != nil {
		return out, err
	}
	slices.SortStableFunc(all, func(a, b Entry) int { return cmp.Compare(b.Written, a.Written) })
	for _, e := range all {
		if e.Written > at && e.By != v.Who.ID && len(out.News) < mostNews {
			out.News = append(out.News, e)
		}
	}
	return out, nil
}
