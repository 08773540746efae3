package httpapi

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/fault"
	"uzzel/internal/people"
)

// seeAs is the header by which an administrator sees what another person would see: that person's number.
const seeAs = "See-As"

// looks are the requests that change nothing though they are no GET: questions that are too long for an address.
var looks = []string{
	"/api/answer", "/api/list", "/api/grouped", "/api/behind", "/api/explain", "/api/panels", "/api/filters", "/api/seen",
	"/api/values/within", "/api/typed", "/api/period", "/api/why", "/api/dropped", "/api/difference", "/api/behind/report",
	"/api/stood", "/api/moves", "/api/moves/groups", "/api/moves/records", "/api/held", "/api/passages",
}

// alone are what is a person's alone, which nobody else looks at.
var alone = []string{"/api/me/", "/api/drafts"}

// as is whom a request of an administrator is answered for: another person, where it asks for that and changes nothing.
func (a *api) as(ctx huma.Context, who people.Person) (people.Person, error) {
	text := ctx.Header(seeAs)
	if text == "" {
		return who, nil
	}
	path, method := ctx.URL().Path, ctx.Method()
	looking := method == http.MethodGet || (method == http.MethodPost && slices.Contains(looks, path))
	id, err := strconv.ParseInt(text, 10, 64)
	switch {
	case !who.Administers():
		return who, fault.New(fault.Forbidden, "", "Only administrators see what others would see.")
	case err != nil:
		return who, fault.New(fault.Invalid, "", "%s names a person by number.", seeAs)
	case slices.ContainsFunc(alone, func(p string) bool { return strings.HasPrefix(path, p) }):
		return who, fault.New(fault.Forbidden, "", "This is the person’s alone.")
	case !looking:
		return who, fault.New(fault.Forbidden, "", "You see what another would see. Nothing is changed like that.")
	}
	other, err := a.app.People.Who(ctx.Context(), id)
	if fault.Is(err, fault.SignedOut) {
		return who, fault.New(fault.NotFound, "", "There is nobody of this number who signs in.")
	}
	other.SeenBy = who.ID
	return other, err
}
