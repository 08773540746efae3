package httpapi

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/typed"
)

// TypedBody is what a typed sentence was read as.
type TypedBody struct {
	Brief    *Brief         `json:"brief,omitempty" doc:"All that was understood; nothing where no record type was named"`
	Text     string         `json:"text" doc:"What was understood, said in full"`
	Unread   []typed.Unread `json:"unread" doc:"What was not understood, with what it may have been meant to be"`
	Problems []string       `json:"problems" doc:"What was understood but cannot be"`
}

func (a *api) typing(g huma.API) {
	huma.Register(
		g,
		op(http.MethodPost, "/api/typed", "typed", "Read a typed sentence"),
		func(ctx context.Context, in *struct {
			Body struct {
				Text string `json:"text" maxLength:"4000"`
			}
		}) (*out[TypedBody], error) {
			snap := view(ctx).Snap
			var b *brief.Brief
			var un []typed.Unread
			err := view(ctx).Write(ctx, func(func() error) error {
				b, un = typed.Read(in.Body.Text, snap.Schema, view(ctx).Known())
				return nil
			})
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := TypedBody{Unread: append([]typed.Unread{}, un...), Problems: []string{}}
			if b == nil {
				return &out[TypedBody]{body}, nil
			}
			shown := public(brief.ForOwner(b), 0)
			body.Brief = &shown
			bound, err := view(ctx).Bind(b)
			var wrong brief.Problems
			switch {
			case errors.As(err, &wrong):
				for _, p := range wrong {
					body.Problems = append(body.Problems, p.Message)
				}
			case err == nil:
				body.Text = view(ctx).Say(bound).String()
			}
			return &out[TypedBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/typed/next", "typed-next", "Ways to go on with a sentence"),
		func(ctx context.Context, in *struct {
			Text string `query:"text" maxLength:"4000"`
		}) (*out[[]string], error) {
			return &out[[]string]{append([]string{}, typed.Complete(in.Text, view(ctx).Snap.Schema, view(ctx).Known())...)}, nil
		},
	)
}
