package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/roster"
)

// PersonBody is one of the organisation's people.
type PersonBody struct {
	ID    int64  `json:"id"`
	Name  string `json:"name"`
	Email string `json:"email"`
	Team  string `json:"team"`
	Role  string `json:"role" doc:"Empty for who has no account"`
	State string `json:"state" enum:"active,invited,without,left"`
}

// DetailsBody is what someone is invited with, or changed to.
type DetailsBody struct {
	Name  string `json:"name"`
	Email string `json:"email"`
	Team  string `json:"team,omitempty" doc:"By its name; one that is not there is made"`
	Role  string `json:"role" enum:"administrator,composer,reader"`
}

// InvitationBody is a one-time address that someone is given.
type InvitationBody struct {
	ID    int64  `json:"id"`
	Email string `json:"email"`
	Path  string `json:"path" doc:"The address on this server, shown once: /key#…"`
}

// HoldingBody is how much of a kind someone has.
type HoldingBody struct {
	Kind  string `json:"kind"`
	Label string `json:"label"`
	Count int64  `json:"count"`
}

func invitation(i roster.Invitation) InvitationBody {
	return InvitationBody{i.ID, i.Email, "/key#" + i.Key}
}

func (a *api) roster(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/people", "people", "The organisation's people"),
		func(ctx context.Context, _ *none) (*out[[]PersonBody], error) {
			entries, err := a.app.Roster.List(ctx, view(ctx))
			list := []PersonBody{}
			for _, e := range entries {
				list = append(list, PersonBody{e.ID, e.Name, e.Email, e.Team, e.Role, e.State})
			}
			return &out[[]PersonBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/people", "invite", "Invite people, all of them or none"),
		func(ctx context.Context, in *struct {
			Body struct {
				People []DetailsBody `json:"people" minItems:"1" maxItems:"500"`
			}
		}) (*out[[]InvitationBody], error) {
			var details []roster.Details
			for _, d := range in.Body.People {
				details = append(details, roster.Details(d))
			}
			made, err := a.app.Roster.Invite(ctx, view(ctx), details)
			list := []InvitationBody{}
			for _, i := range made {
				list = append(list, invitation(i))
			}
			return &out[[]InvitationBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/people/{id}", "change-person", "Change someone's name, address, team or role"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body DetailsBody
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Roster.Change(ctx, view(ctx), in.ID, roster.Details(in.Body)))
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/people/{id}/key", "invite-again", "Another invitation, or the way to another password"),
		func(ctx context.Context, in *idIn) (*out[InvitationBody], error) {
			i, err := a.app.Roster.Again(ctx, view(ctx), in.ID)
			return &out[InvitationBody]{invitation(i)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/people/{id}/holds", "holds", "What someone has that another can take over"),
		func(ctx context.Context, in *idIn) (*out[[]HoldingBody], error) {
			holdings, err := a.app.Roster.Holds(ctx, view(ctx), in.ID)
			list := []HoldingBody{}
			for _, h := range holdings {
				list = append(list, HoldingBody(h))
			}
			return &out[[]HoldingBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/people/{id}/leave", "leave", "Take someone off, and hand over what they have"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				To map[string]int64 `json:"to" doc:"Who takes over, by the kind of what they hold; a kind that is not named stays"`
			}
		}) (*struct{}, error) {
			err := a.app.Roster.Leave(ctx, view(ctx), in.ID, in.Body.To)
			if err == nil {
				err = a.endSessions(ctx, in.ID, "")
			}
			return nil, a.fail(ctx, err)
		},
	)
}
