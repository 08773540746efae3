// Package library is what people keep and share: reports and folders, what they were before, drafts, where they are,
// which dashboards there are, and finding them. It checks who may, and tells open windows of what changed.
package library

import (
	"context"
	"log/slog"

	"uzzel/internal/feed"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Library keeps what people share.
type Library struct {
	store  *store.Store
	people *people.People
	feed   *feed.Hub
	log    *slog.Logger
}

// New is a library in a store; feed is told of what changes.
func New(s *store.Store, p *people.People, f *feed.Hub, log *slog.Logger) *Library {
	return &Library{store: s, people: p, feed: f, log: log}
}

// Tell tells those who may open one of some folders, and an owner, of something that lies in them: also where whoever
// changed it has gone meanwhile.
func (lib *Library) Tell(ctx context.Context, kind string, id, owner int64, in ...int64) {
	ctx = context.WithoutCancel(ctx)
	e := feed.Event{Kind: kind, ID: id, Owners: []int64{owner}}
	list, err := lib.store.FoldersByID(ctx, in)
	if err != nil {
		lib.log.ErrorContext(ctx, "whom to tell", "error", err)
	}
	for i := range list {
		e.In = append(e.In, &list[i])
	}
	if e.Shared, _, err = lib.store.Shares(ctx, store.Item{Kind: kind, Item: id}); err != nil {
		lib.log.ErrorContext(ctx, "whom to tell", "error", err)
	}
	lib.after(ctx, func() { lib.feed.Tell(e) })
}

// tellShared tells those whom something was shared with by itself.
func (lib *Library) tellShared(i store.Item, list []store.Access) {
	if len(list) > 0 {
		lib.feed.Tell(feed.Event{Kind: i.Kind, ID: i.Item, Shared: list})
	}
}

type afterKey struct{}

// Together keeps all that do keeps with the context it is given, or nothing of it; who is to be told of it is told once
// it is kept.
func (lib *Library) Together(ctx context.Context, do func(ctx context.Context) error) error {
	var told []func()
	err := lib.store.Together(
		ctx,
		func(ctx context.Context) error { return do(context.WithValue(ctx, afterKey{}, &told)) },
	)
	if err == nil {
		for _, tell := range told {
			tell()
		}
	}
	return err
}

// after does something once what a context keeps is kept: at once, where that is not together with more.
func (lib *Library) after(ctx context.Context, do func()) {
	if told, ok := ctx.Value(afterKey{}).(*[]func()); ok {
		*told = append(*told, do)
		return
	}
	do()
}
