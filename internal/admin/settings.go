package admin

import (
	"context"
	"encoding/json"
	"fmt"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/figures"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/inforce"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// SeesVersions are the versions of what is set, by record type.
func (a *Admin) SeesVersions(ctx context.Context) (map[string]int, error) {
	return a.store.SettingVersions(ctx, store.SettingSees)
}

// SetSees sets which records of a type people may see: everyone's (""), their team's or their own.
func (a *Admin) SetSees(ctx context.Context, v *answers.View, typ string, how engine.Sees, version int) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators say which records people may see.")
	}
	t := v.Snap.Schema.Type(typ)
	switch {
	case t == nil:
		return fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	case how != engine.SeesAll && how != engine.SeesTeam && how != engine.SeesOwn:
		return fault.New(fault.Invalid, "/how", "People may see everyone's records, their team's or their own.")
	case how != engine.SeesAll && t.Owner == "":
		return fault.New(fault.Invalid, "/how", "%s have no owner: they are seen where what they belong to is seen.", t.Label)
	}
	if err := a.store.SetSees(ctx, typ, string(how), version); err != nil {
		return fault.FromStore(err, "setting")
	}
	a.changed(ctx, a.in.Sees)
	return nil
}

// mostExceptions is how many there are of what people may see in general.
const mostExceptions = 500

// SetExceptions sets who sees other records than people do in general.
func (a *Admin) SetExceptions(ctx context.Context, v *answers.View, list []answers.Exception, version int) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators say which records people may see.")
	}
	if len(list) > mostExceptions {
		return fault.New(fault.Invalid, "/exceptions", "There are %d exceptions at most.", mostExceptions)
	}
	said := map[answers.Exception]bool{}
	for i, e := range list {
		at := fmt.Sprintf("/exceptions/%d", i)
		t := v.Snap.Schema.Type(e.Type)
		switch {
		case t == nil || t.Owner == "":
			return fault.New(fault.Invalid, at+"/type", "Name records that have an owner.")
		case e.How != engine.SeesAll && e.How != engine.SeesTeam && e.How != engine.SeesOwn:
			return fault.New(fault.Invalid, at+"/how", "People may see everyone's records, their team's or their own.")
		case (e.Kind != store.ForPerson && e.Kind != store.ForTeam) ||
			people.SubjectName(v.Snap, store.Access{Kind: e.Kind, Subject: e.Subject}) == "":
			return fault.New(fault.Invalid, at+"/subject", "Name a person or a team.")
		}
		same := e
		same.How = ""
		if said[same] {
			return fault.New(fault.Invalid, at, "There are two exceptions of the same. Keep one.")
		}
		said[same] = true
	}
	text, err := json.Marshal(list)
	if err != nil {
		return err
	}
	return a.set(ctx, answers.SightSetting, string(text), version, a.in.Sees)
}

// SetPolicy sets what people of a role may do; version is the one that was read.
func (a *Admin) SetPolicy(ctx context.Context, v *answers.View, p people.Policy, version int) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators say what readers may do.")
	}
	text, err := json.Marshal(p)
	if err != nil {
		return err
	}
	return a.set(ctx, people.PolicySetting, string(text), version, a.in.Policy)
}

// Everyones is how figures are written for everyone, and how the person has chosen, nil where as everyone.
func (a *Admin) Everyones(v *answers.View) (all, own *answers.Figures) {
	all = a.in.Figures.Now()
	return all, all.Own(v.Who.ID)
}

// SetOwnFigures sets how figures are written for the person alone; a tag of "" has them as everyone's.
func (a *Admin) SetOwnFigures(ctx context.Context, v *answers.View, tag, days string) error {
	way := ""
	if tag != "" {
		form, err := formOf(tag, days)
		if err != nil {
			return err
		}
		way = tag + " " + form.Way()
	}
	if err := a.store.SetPersonFigures(ctx, store.PersonFigures{Person: v.Who.ID, Way: way}); err != nil {
		return err
	}
	a.settings.Changed(ctx, a.in.Figures)
	return nil
}

func formOf(tag, days string) (figures.Form, error) {
	form, err := figures.Of(tag)
	if err != nil {
		return form, fault.New(fault.Invalid, "/tag", "%s.", brief.Capital(err.Error()))
	}
	if form, err = form.WithDays(days); err != nil {
		return form, fault.New(fault.Invalid, "/days", "%s.", brief.Capital(err.Error()))
	}
	return form, nil
}

// SetFigures sets how figures are written for everyone: a tag of figures.Tags and one of figures.Days; version is the
// one that was read.
func (a *Admin) SetFigures(ctx context.Context, v *answers.View, tag, days string, version int) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators say how figures are written.")
	}
	form, err := formOf(tag, days)
	if err != nil {
		return err
	}
	return a.set(ctx, answers.FiguresSetting, tag+" "+form.Way(), version, a.in.Figures)
}

// set keeps a preference that holds for everyone, as what is in force from then on; version is the one that was read.
func (a *Admin) set(ctx context.Context, name, text string, version int, setting inforce.Refresher) error {
	if err := a.store.SetPreference(ctx, name, text, version); err != nil {
		return fault.FromStore(err, "setting")
	}
	a.changed(ctx, setting)
	return nil
}

// changed has a setting that was kept in force from then on, and open windows ask anew.
func (a *Admin) changed(ctx context.Context, setting inforce.Refresher) {
	a.settings.Changed(ctx, setting)
	a.feed.Tell(feed.Event{Kind: feed.Settings})
}
