// Package people is who may sign in: persons with their team and role, the teams that things are shared with, and the
// door that checks passwords.
package people

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/fault"
	"uzzel/internal/inforce"
	"uzzel/internal/store"
)

// Roles of accounts.
const (
	Administrator = "administrator"
	Composer      = "composer"
	Reader        = "reader"
)

// Person is someone who has signed in.
type Person struct {
	ID      int64
	Name    string
	Team    string
	TeamID  int64 // 0 for none
	Role    string
	Granted Rights // besides those of the role
	SeenBy  int64  // the administrator who looks at what the person would see, 0 for nobody
}

// Viewer is the person as the store asks who may open what.
func (p Person) Viewer() store.Viewer {
	return store.Viewer{Person: p.ID, Team: p.TeamID, Administrator: p.Administers(), Seen: p.SeenBy != 0}
}

// MayCompose says whether a person may change what all share: reports and dashboards in folders that are open to
// change.
func (p Person) MayCompose() bool { return p.May(Compose) }

// Rank is how much of the fields of records a person may see and change.
func (p Person) Rank() schema.Rank {
	switch {
	case p.Administers():
		return schema.Administrators
	case p.MayCompose():
		return schema.Composers
	}
	return schema.Readers
}

// Administers says whether a person is an administrator.
func (p Person) Administers() bool { return p.Role == Administrator }

// Key is the person's id as records have it.
func (p Person) Key() string { return strconv.FormatInt(p.ID, 10) }

// People knows who may sign in.
type People struct {
	store  *store.Store
	doors  doors
	grants *inforce.Value[Grants]
}

// Grants are the rights that are in force besides those of roles.
func (p *People) Grants() *inforce.Value[Grants] { return p.grants }

// New knows the people of a store.
func New(s *store.Store) *People {
	return &People{
		store:  s,
		doors:  newDoors(func() time.Time { return s.Now() }),
		grants: inforce.New(func(ctx context.Context) (*Grants, error) { return ReadGrants(ctx, s) }),
	}
}

// Who is the person behind an id; SignedOut where they no longer may sign in.
func (p *People) Who(ctx context.Context, id int64) (Person, error) {
	snap := p.store.Snapshot()
	t, err := snap.Table(snap.Schema.Readers().Key)
	if err != nil {
		return Person{}, err
	}
	found, err := p.person(ctx, snap, t.IDs.Row(strconv.FormatInt(id, 10)))
	if errors.Is(err, store.ErrNotFound) {
		return Person{}, fault.New(fault.SignedOut, "", "Sign in again.")
	}
	return found.Person, err
}

type withPassword struct {
	Person
	password string
}

func (p *People) person(ctx context.Context, snap *column.Snapshot, row int32) (withPassword, error) {
	if row < 0 {
		return withPassword{}, store.ErrNotFound
	}
	readers := snap.Schema.Readers()
	t, err := snap.Table(readers.Key)
	if err != nil {
		return withPassword{}, err
	}
	id, err := strconv.ParseInt(t.IDs.At(row), 10, 64)
	if err != nil {
		return withPassword{}, err
	}
	a, err := p.store.Account(ctx, id)
	if err != nil {
		return withPassword{}, err
	}
	found := Person{ID: id, Name: snap.Name(readers.Key, row), Role: a.Role, TeamID: TeamOf(snap, id)}
	if found.Granted, err = p.Granted(ctx, id, found.TeamID); err != nil {
		return withPassword{}, err
	}
	if found.TeamID != 0 {
		found.Team = SubjectName(snap, store.Access{Kind: store.ForTeam, Subject: found.TeamID})
	}
	return withPassword{found, a.Password}, nil
}

// byEmail is the row of the person with an e-mail address, case aside; −1 for none.
func byEmail(snap *column.Snapshot, address string) int32 {
	readers := snap.Schema.Readers().Key
	t, err := snap.Table(readers)
	if err != nil || address == "" {
		return -1
	}
	c, err := snap.Column(readers, "email")
	if err != nil {
		return -1
	}
	folded, want := c.Dict.Folded(), column.Fold(address)
	for row := range int32(t.N) {
		if v := c.At(row); v != column.Null && folded[v] == want {
			return row
		}
	}
	return -1
}

// Account is one account with what the sign-in page of the demo says of it.
type Account struct {
	Person
	Email string
}

// AccountOf is someone's name, address and account.
func (p *People) AccountOf(ctx context.Context, id int64) (Account, error) {
	snap := p.store.Snapshot()
	readers := snap.Schema.Readers().Key
	t, err := snap.Table(readers)
	if err != nil {
		return Account{}, err
	}
	email, err := snap.Column(readers, "email")
	if err != nil {
		return Account{}, err
	}
	row := t.IDs.Row(strconv.FormatInt(id, 10))
	found, err := p.person(ctx, snap, row)
	if err != nil {
		return Account{}, err
	}
	return Account{found.Person, snap.Text(email, email.At(row), t)}, nil
}

// Accounts lists who can sign in. It is for the sign-in page of the demo alone.
func (p *People) Accounts(ctx context.Context) ([]Account, error) {
	list, err := p.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	var out []Account
	for _, a := range list {
		if found, err := p.AccountOf(ctx, a.Person); err == nil {
			out = append(out, found)
		}
	}
	return out, nil
}

// Readers are those who can sign in and may open a folder; everyone, where it is nil. Only what says who may open what
// is filled in: id, role and team.
func (p *People) Readers(ctx context.Context, f *store.Folder) ([]Person, error) {
	accounts, err := p.store.Accounts(ctx)
	snap := p.store.Snapshot()
	var list []Person
	for _, a := range accounts {
		reader := Person{ID: a.Person, Role: a.Role, TeamID: TeamOf(snap, a.Person)}
		if f == nil || f.MayOpen(reader.Viewer()) {
			list = append(list, reader)
		}
	}
	return list, err
}

// Name is the name of a person; "" for nobody.
func Name(snap *column.Snapshot, id int64) string {
	key := snap.Schema.Readers().Key
	t, err := snap.Table(key)
	if err != nil {
		return ""
	}
	return snap.Name(key, t.IDs.Row(Person{ID: id}.Key()))
}

// TeamOf is a person's team; 0 for none.
func TeamOf(snap *column.Snapshot, person int64) int64 {
	readers := snap.Schema.Readers()
	t, err := snap.Table(readers.Key)
	if err != nil {
		return 0
	}
	row := t.IDs.Row(Person{ID: person}.Key())
	team, err := snap.Column(readers.Key, readers.Team)
	if row < 0 || err != nil {
		return 0
	}
	v := team.At(row)
	if v == column.Null {
		return 0
	}
	teams, err := snap.Table(team.To)
	if err != nil {
		return 0
	}
	id, _ := strconv.ParseInt(teams.IDs.At(int32(v)), 10, 64)
	return id
}

// SubjectName is the name of whom an access is for; "" where there is nobody.
func SubjectName(snap *column.Snapshot, a store.Access) string {
	readers := snap.Schema.Readers()
	switch a.Kind {
	case store.ForPerson:
		return Name(snap, a.Subject)
	case store.ForTeam:
		if f := readers.Field(readers.Team); f != nil {
			return snap.NameOf(f.To, Person{ID: a.Subject}.Key(), nil)
		}
	}
	return ""
}

// Subject is someone whom things can be shared with: a team, or a person who can sign in.
type Subject struct {
	Kind string
	ID   int64
	Name string
}

// Subjects lists the teams, then the people who can sign in, each by name.
func (p *People) Subjects(ctx context.Context) ([]Subject, error) {
	snap := p.store.Snapshot()
	readers := snap.Schema.Readers()
	var list []Subject
	if f := readers.Field(readers.Team); f != nil {
		t, err := snap.Table(f.To)
		if err != nil {
			return nil, err
		}
		for row := range int32(t.N) {
			if id, err := strconv.ParseInt(t.IDs.At(row), 10, 64); err == nil {
				list = append(list, Subject{store.ForTeam, id, snap.Name(f.To, row)})
			}
		}
	}
	accounts, err := p.store.Accounts(ctx)
	for _, a := range accounts {
		list = append(list, Subject{store.ForPerson, a.Person, Name(snap, a.Person)})
	}
	slices.SortStableFunc(list, func(a, b Subject) int {
		if a.Kind != b.Kind {
			return strings.Compare(b.Kind, a.Kind)
		}
		return strings.Compare(a.Name, b.Name)
	})
	return list, err
}
