package library

import (
	"context"
	"fmt"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// MaxShares is how many teams and people a single report or dashboard is shared with at most; more are a folder's.
const MaxShares = 100

// MayShare says whether a person says whom something of an owner's is shared with: the owner, where the owner composes,
// and administrators. Whoever else may change it cannot open it to others.
func MayShare(v *answers.View, owner int64) bool {
	return v.Who.Administers() || (owner == v.Who.ID && v.Who.MayCompose())
}

// sharable opens a report or dashboard that a person shares (MayShare).
func (lib *Library) sharable(ctx context.Context, v *answers.View, i store.Item) (owner, folder int64, err error) {
	var name string
	switch i.Kind {
	case store.KindReport:
		r, err := lib.Report(ctx, v, i.Item)
		if err != nil {
			return 0, 0, err
		}
		owner, folder, name = r.Owner, r.Folder, r.OwnerName
	case store.KindBoard:
		b, err := lib.Board(ctx, v, i.Item)
		if err != nil {
			return 0, 0, err
		}
		owner, folder, name = b.Owner, b.Folder, b.OwnerName
	default:
		return 0, 0, fault.New(fault.Invalid, "/kind", "a kind is report or board, not %q", i.Kind)
	}
	if !MayShare(v, owner) {
		return 0, 0, fault.New(fault.Forbidden, "", "Only %s and administrators share this with others.", name)
	}
	return owner, folder, nil
}

// Shares lists whom a report or dashboard is shared with by itself, besides those who may open its folder, and the
// version of that.
func (lib *Library) Shares(
	ctx context.Context,
	v *answers.View,
	i store.Item,
) (list []store.Access, version int, err error) {
	if _, _, err := lib.sharable(ctx, v, i); err != nil {
		return nil, 0, err
	}
	return lib.store.Shares(ctx, i)
}

// Share says whom a report or dashboard is shared with by itself.
func (lib *Library) Share(ctx context.Context, v *answers.View, i store.Item, list []store.Access, version int) error {
	owner, folder, err := lib.sharable(ctx, v, i)
	if err != nil {
		return err
	}
	if len(list) > MaxShares {
		return fault.New(
			fault.Invalid,
			"/access",
			"One is shared with %d teams and people at most. Put it into a folder that they may open.",
			MaxShares,
		)
	}
	if list, err = checkAccess(v, list); err != nil {
		return err
	}
	was, _, err := lib.store.Shares(ctx, i)
	if err != nil {
		return err
	}
	if err := lib.store.SetShares(ctx, i, list, version); err != nil {
		return fault.FromStore(err, map[string]string{store.KindReport: "report", store.KindBoard: "dashboard"}[i.Kind])
	}
	lib.Tell(ctx, i.Kind, i.Item, owner, folder)
	lib.tellShared(i, was) // those who may no longer open it are told, too
	return nil
}

// checkAccess checks whom something is opened to: each once.
func checkAccess(v *answers.View, list []store.Access) ([]store.Access, error) {
	seen := map[string]bool{}
	out := make([]store.Access, 0, len(list))
	for i, a := range list {
		switch a.Kind {
		case store.ForEveryone:
			a.Subject = 0
		case store.ForTeam, store.ForPerson:
			if people.SubjectName(v.Snap, a) == "" {
				return nil, fault.New(fault.Invalid, fmt.Sprintf("/access/%d", i), "There is no such team or person.")
			}
		default:
			return nil, fault.New(fault.Invalid, fmt.Sprintf("/access/%d", i), "Access is for everyone, a team or a person.")
		}
		if key := fmt.Sprint(a.Kind, " ", a.Subject); !seen[key] {
			seen[key] = true
			out = append(out, a)
		}
	}
	return out, nil
}
