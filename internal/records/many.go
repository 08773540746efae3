package records

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"

	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// MostMany is how many records are changed at once to the same.
const MostMany = 10_000

// Left is a record that cannot be changed so, and why.
type Left struct {
	ID  int64
	Why string
}

// Many is what a change of many records did, or would do.
type Many struct {
	Done Done
	Same int // records that have the values already
	Left []Left
}

// ChangeMany changes many records to the same values; those that cannot have them are left as they are, and said. With
// dry nothing is changed: it says what would be. All others are changed in one transaction.
func (r *Records) ChangeMany(
	ctx context.Context,
	v *answers.View,
	typ string,
	ids []int64,
	values Values,
	dry bool,
) (Many, error) {
	t, err := Writable(v, typ)
	if err != nil {
		return Many{}, err
	}
	if len(ids) == 0 || len(ids) > MostMany {
		return Many{}, fault.New(
			fault.Invalid, "/ids", "One to %d records are changed at a time; these are %d.", MostMany, len(ids))
	}
	var wrong Refusals
	checked := r.check(v, t, values, "/values", &wrong)
	if len(wrong) > 0 {
		return Many{}, wrong.sorted()
	}
	for _, id := range ids {
		if err := Sees(v, t, id); err != nil {
			return Many{}, err
		}
	}
	var out Many
	all := whole(v, t)
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		taken := claims{}
		for start := 0; start < len(ids); start += atOnce {
			some := ids[start:min(start+atOnce, len(ids))]
			was, err := w.ReadMany(typ, some)
			if err != nil {
				return err
			}
			for i, id := range some {
				if err := goesOn(ctx, start+i, len(ids)); err != nil {
					return err
				}
				if err := r.changeOne(w, t, all, id, Values(was[id]), checked, taken, dry, &out); err != nil {
					return err
				}
			}
		}
		return nil
	})
	if err == nil && !dry && len(out.Done.Changed) > 0 {
		r.tell()
	}
	return out, err
}

// changeOne changes one of many records, or notes why it cannot be. t is the type as the person sees it, all that with
// every field.
func (r *Records) changeOne(
	w *store.Writer, t, all *schema.Type, id int64, was, values Values, taken claims, dry bool, out *Many,
) error {
	if was == nil {
		out.Left = append(out.Left, Left{id, fmt.Sprintf("This %s was deleted meanwhile.", t.One)})
		return nil
	}
	to := store.Record{}
	for key, text := range values {
		if was[key] != text {
			to[key] = text
		}
	}
	if len(to) == 0 {
		out.Same++
		return nil
	}
	r.close(all, was, to)
	var wrong Refusals
	switch err := r.together(w, all, id, Values(to), "/values", taken); {
	case errors.As(err, &wrong):
		out.Left = append(out.Left, Left{id, wrong.Error()})
		return nil
	case err != nil:
		return err
	}
	for _, key := range slices.Sorted(maps.Keys(to)) {
		if f := t.Field(key); f == nil || f.Locked {
			continue // set with what was changed, and not the person's to take back
		}
		out.Done.Changed = append(out.Done.Changed, ChangedField{id, key, was[key], to[key]})
	}
	if dry {
		return nil
	}
	return w.Change(t.Key, id, to)
}

// TakeBack makes fields what they were before a change of many records, where nobody has changed them since. It says how
// many records were left as they are.
func (r *Records) TakeBack(ctx context.Context, v *answers.View, typ string, changed []ChangedField) (int, error) {
	t, err := Writable(v, typ)
	if err != nil {
		return 0, err
	}
	if len(changed) == 0 || len(changed) > 4*MostMany {
		return 0, fault.New(fault.Invalid, "/changed", "There is nothing to take back, or more than was changed at once.")
	}
	var wrong Refusals
	back, is := map[int64]Values{}, map[int64]Values{}
	for i, c := range changed {
		if err := Sees(v, t, c.ID); err != nil {
			return 0, err
		}
		if back[c.ID] == nil {
			back[c.ID], is[c.ID] = Values{}, Values{}
		}
		for key, text := range r.check(v, t, Values{c.Field: c.From}, fmt.Sprintf("/changed/%d", i), &wrong) {
			back[c.ID][key], is[c.ID][key] = text, c.To
		}
	}
	if len(wrong) > 0 {
		return 0, wrong.sorted()
	}
	left := 0
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		taken := claims{}
		for i, id := range slices.Sorted(maps.Keys(back)) {
			if err := goesOn(ctx, i, len(back)); err != nil {
				return err
			}
			did, err := r.backOne(w, t, id, back[id], is[id], taken)
			if err != nil {
				return err
			}
			if !did {
				left++
			}
		}
		return nil
	})
	if err == nil && left < len(back) {
		r.tell()
	}
	return left, err
}

// backOne makes fields of a record what they were, where they are still what they came to be; all of them were where it
// says so.
func (r *Records) backOne(
	w *store.Writer, t *schema.Type, id int64, was, is Values, taken claims,
) (all bool, err error) {
	now, err := w.Read(t.Key, id)
	if errors.Is(err, store.ErrNotFound) {
		return true, nil // deleted since: there is nothing to take back
	}
	if err != nil {
		return false, err
	}
	to, all := store.Record{}, true
	for key, text := range was {
		if now[key] == is[key] {
			to[key] = text
		} else {
			all = false
		}
	}
	if len(to) == 0 {
		return all, nil
	}
	if err := r.together(w, t, id, Values(to), "", taken); err != nil {
		return false, err
	}
	return all, w.Change(t.Key, id, to)
}
