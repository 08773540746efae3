// Package roster is the organisation's people as administrators see and change them: who is invited, in which team and
// role, and who takes over when someone leaves.
package roster

import (
	"context"
	"net/mail"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/inforce"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Roster keeps the people of an organisation.
type Roster struct {
	store    *store.Store
	people   *people.People
	feed     *feed.Hub
	settings *inforce.Settings
}

// New keeps the people of a store.
func New(s *store.Store, p *people.People, f *feed.Hub, settings *inforce.Settings) *Roster {
	return &Roster{store: s, people: p, feed: f, settings: settings}
}

// States of people.
const (
	Active  = "active"  // signs in
	Invited = "invited" // has an invitation that was not taken up
	Without = "without" // is known, and has no account
	Left    = "left"    // was taken off, and signs in no more
)

// Entry is one of the organisation's people.
type Entry struct {
	ID          int64
	Name, Email string
	Team        string
	TeamID      int64  // 0 for none
	Role        string // "" for who has no account
	State       string
}

// Details are someone to be invited, or what someone is changed to. A team that is not there yet is made.
type Details struct {
	Name, Email, Team, Role string
}

// Invitation is someone who was invited, with the key of the invitation.
type Invitation struct {
	ID    int64
	Email string
	Key   string
}

// most is how many are invited at once.
const most = 500

func mayAdminister(v *answers.View) error {
	if !v.Who.May(people.LookAfter) {
		return fault.New(fault.Forbidden, "", "Only administrators, and who has the right to, look after people.")
	}
	return nil
}

// within refuses that someone of a role and a team, and with rights of their own, comes out with a right that whoever asks
// for it does not have: nobody gives what they have not, nor lets themselves in as someone who has more.
func (r *Roster) within(ctx context.Context, v *answers.View, id int64, role string, team int64) error {
	granted, err := r.people.Granted(ctx, id, team)
	if err != nil {
		return err
	}
	is := people.Person{Role: role, Granted: granted}
	if v.Who.Administers() || (!is.Administers() && v.Who.May(is.Rights())) {
		return nil
	}
	return fault.New(fault.Forbidden, "", "They have rights, or would have, that you do not have. Ask an administrator.")
}

// List lists all people by name, those who left last.
func (r *Roster) List(ctx context.Context, v *answers.View) ([]Entry, error) {
	if err := mayAdminister(v); err != nil {
		return nil, err
	}
	accounts, err := r.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	byID := map[int64]store.Account{}
	for _, a := range accounts {
		byID[a.Person] = a
	}
	invited, err := r.store.Invited(ctx, people.InviteKey, r.store.Now().Unix())
	if err != nil {
		return nil, err
	}
	snap := v.Snap
	readers := snap.Schema.Readers()
	t, err := snap.Table(readers.Key)
	if err != nil {
		return nil, err
	}
	email, err := snap.Column(readers.Key, "email")
	if err != nil {
		return nil, err
	}
	active, err := snap.Column(readers.Key, readers.Listed)
	if err != nil {
		return nil, err
	}
	list := []Entry{}
	for row := range int32(t.N) {
		id, err := strconv.ParseInt(t.IDs.At(row), 10, 64)
		if err != nil {
			continue
		}
		e := Entry{
			ID:     id,
			Name:   snap.Name(readers.Key, row),
			Email:  snap.Text(email, email.At(row), t),
			TeamID: people.TeamOf(snap, id),
		}
		if e.TeamID != 0 {
			e.Team = people.SubjectName(snap, store.Access{Kind: store.ForTeam, Subject: e.TeamID})
		}
		a, has := byID[id]
		e.Role = a.Role
		switch {
		case has && a.Password != "":
			e.State = Active
		case has && slices.Contains(invited, id):
			e.State = Invited
		case active.At(row) == 0:
			e.State = Left
		default:
			e.State = Without
		}
		list = append(list, e)
	}
	slices.SortStableFunc(list, func(a, b Entry) int {
		if (a.State == Left) != (b.State == Left) {
			if a.State == Left {
				return 1
			}
			return -1
		}
		return strings.Compare(column.Fold(a.Name), column.Fold(b.Name))
	})
	return list, nil
}

// Invite adds people who are not there yet, all or none, and gives the keys of their invitations; who is there without
// an account is invited as well.
func (r *Roster) Invite(ctx context.Context, v *answers.View, list []Details) ([]Invitation, error) {
	if err := mayAdminister(v); err != nil {
		return nil, err
	}
	if len(list) == 0 || len(list) > most {
		return nil, fault.New(
			fault.Invalid,
			"/people",
			"One to %d people are invited at a time; these are %d.",
			most,
			len(list),
		)
	}
	known, err := r.List(ctx, v)
	if err != nil {
		return nil, err
	}
	byEmail := map[string]Entry{}
	for _, e := range known {
		byEmail[column.Fold(e.Email)] = e
	}
	asked := map[string]bool{}
	for i, d := range list {
		if list[i], err = Checked(d, "/people/"+strconv.Itoa(i)); err != nil {
			return nil, err
		}
		email := column.Fold(list[i].Email)
		if e, ok := byEmail[email]; (ok && (e.State == Active || e.State == Invited)) || asked[email] {
			return nil, fault.New(
				fault.Taken,
				"/people/"+strconv.Itoa(i)+"/email",
				"%s is invited or signs in already.",
				list[i].Email,
			)
		}
		asked[email] = true
	}
	teams, err := teamsOf(v)
	if err != nil {
		return nil, err
	}
	var out []Invitation
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		ctx := w.Together(ctx)
		if err := teams.with(w, list); err != nil {
			return err
		}
		next, err := w.Next("people")
		if err != nil {
			return err
		}
		for _, d := range list {
			id := next
			if e, ok := byEmail[column.Fold(d.Email)]; ok {
				id = e.ID
			}
			if err := r.within(ctx, v, id, d.Role, teams.number(d.Team)); err != nil {
				return err
			}
			to := store.Record{"name": d.Name, "email": d.Email, "team": teams.ids[column.Fold(d.Team)], "active": "true"}
			if id != next {
				err = w.Change("people", id, to)
			} else {
				next++
				to["id"] = strconv.FormatInt(id, 10)
				err = w.Add("people", []store.Record{to})
			}
			if err != nil {
				return err
			}
			if err := r.store.PutAccount(ctx, store.Account{Person: id, Role: d.Role}); err != nil {
				return err
			}
			key, err := r.people.NewKey(ctx, people.InviteKey, id)
			if err != nil {
				return err
			}
			out = append(out, Invitation{id, d.Email, key})
		}
		return nil
	})
	r.tell()
	return out, err
}

// Again gives someone another invitation, or, who signs in already, the key to another password.
func (r *Roster) Again(ctx context.Context, v *answers.View, id int64) (Invitation, error) {
	e, _, err := r.touched(ctx, v, id)
	if err != nil {
		return Invitation{}, err
	}
	kind := people.InviteKey
	switch e.State {
	case Active:
		kind = people.ResetKey
	case Without, Left:
		return Invitation{}, fault.New(fault.Invalid, "", "%s has no account; invite them.", e.Name)
	}
	key, err := r.people.NewKey(ctx, kind, id)
	return Invitation{id, e.Email, key}, err
}

// Change gives someone another name, address, team or role. The last administrator stays one.
func (r *Roster) Change(ctx context.Context, v *answers.View, id int64, d Details) error {
	e, list, err := r.touched(ctx, v, id)
	if err != nil {
		return err
	}
	if d, err = Checked(d, ""); err != nil {
		return err
	}
	for _, other := range list {
		if other.ID != id && column.Fold(other.Email) == column.Fold(d.Email) {
			return fault.New(fault.Taken, "/email", "%s has this address.", other.Name)
		}
	}
	if e.Role == people.Administrator && d.Role != people.Administrator && e.State == Active && !another(list, id) {
		return fault.New(fault.Invalid, "/role", "%s is the only administrator. Make someone else one first.", e.Name)
	}
	teams, err := teamsOf(v)
	if err != nil {
		return err
	}
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		if err := teams.with(w, []Details{d}); err != nil {
			return err
		}
		role := d.Role
		if e.Role == "" { // who has no account has no role
			role = ""
		}
		if err := r.within(w.Together(ctx), v, id, role, teams.number(d.Team)); err != nil {
			return err
		}
		to := store.Record{"name": d.Name, "email": d.Email, "team": teams.ids[column.Fold(d.Team)]}
		if err := w.Change("people", id, to); err != nil {
			return err
		}
		if e.Role == "" {
			return nil
		}
		a, err := r.store.Account(w.Together(ctx), id)
		if err != nil {
			return err
		}
		a.Role = d.Role
		return r.store.PutAccount(w.Together(ctx), a)
	})
	r.tell()
	return err
}

// entry finds someone among all people, who are given too.
func (r *Roster) entry(ctx context.Context, v *answers.View, id int64) (Entry, []Entry, error) {
	list, err := r.List(ctx, v)
	if err != nil {
		return Entry{}, nil, err
	}
	at := slices.IndexFunc(list, func(e Entry) bool { return e.ID == id })
	if at < 0 {
		return Entry{}, nil, fault.New(fault.NotFound, "", "There is nobody of this number.")
	}
	return list[at], list, nil
}

// touched finds someone who is to be changed: nobody who has a right that whoever changes them does not have.
func (r *Roster) touched(ctx context.Context, v *answers.View, id int64) (Entry, []Entry, error) {
	e, list, err := r.entry(ctx, v, id)
	switch {
	case err != nil:
	case id == v.Who.ID && !v.Who.Administers():
		err = fault.New(fault.Forbidden, "", "What concerns yourself is changed by an administrator.")
	default:
		err = r.within(ctx, v, id, e.Role, e.TeamID)
	}
	return e, list, err
}

// another says whether there is an administrator who signs in besides someone.
func another(list []Entry, id int64) bool {
	return slices.ContainsFunc(list, func(e Entry) bool {
		return e.ID != id && e.Role == people.Administrator && e.State == Active
	})
}

// teams are the ids of the organisation's teams, by name without case.
type teams struct {
	typ string
	ids map[string]string
}

// teamsOf reads the teams. It is called before anything is written: a table that is not loaded yet waits for writes.
func teamsOf(v *answers.View) (teams, error) {
	readers := v.Snap.Schema.Readers()
	out := teams{readers.Field(readers.Team).To, map[string]string{"": ""}}
	t, err := v.Snap.Table(out.typ)
	if err != nil {
		return out, err
	}
	for row := range int32(t.N) {
		out.ids[column.Fold(v.Snap.Name(out.typ, row))] = t.IDs.At(row)
	}
	return out, nil
}

// number is that of a team that is there.
func (t teams) number(name string) int64 {
	id, _ := strconv.ParseInt(t.ids[column.Fold(name)], 10, 64)
	return id
}

// with makes the teams that people are put into and that are not there.
func (t teams) with(w *store.Writer, list []Details) error {
	for _, d := range list {
		if _, ok := t.ids[column.Fold(d.Team)]; ok {
			continue
		}
		next, err := w.Next(t.typ)
		if err != nil {
			return err
		}
		id := strconv.FormatInt(next, 10)
		if err := w.Add(t.typ, []store.Record{{"id": id, "name": d.Team}}); err != nil {
			return err
		}
		t.ids[column.Fold(d.Team)] = id
	}
	return nil
}

// Checked tidies what is said of someone; pointer is where that is in the request.
func Checked(d Details, pointer string) (Details, error) {
	name, wrong := naming.Title(d.Name, pointer+"/name")
	d.Name, d.Email, d.Team = name, strings.TrimSpace(d.Email), naming.Tidy(d.Team)
	address, err := mail.ParseAddress(d.Email)
	switch {
	case wrong != nil:
		return d, wrong
	case err != nil || address.Address != d.Email || len(d.Email) > 254:
		return d, fault.New(fault.Invalid, pointer+"/email", "“%s” is no e-mail address.", d.Email)
	case len(d.Team) > 200:
		return d, fault.New(fault.Invalid, pointer+"/team", "A team's name has at most 200 characters.")
	case !slices.Contains(Roles, d.Role):
		return d, fault.New(fault.Invalid, pointer+"/role", "A role is one of %s.", strings.Join(Roles, ", "))
	}
	return d, nil
}

// Roles are those that someone can have.
var Roles = []string{people.Administrator, people.Composer, people.Reader}

func (r *Roster) tell() {
	r.feed.Tell(feed.Event{Kind: feed.Settings})
	r.feed.Tell(feed.Event{Kind: feed.Records})
}
