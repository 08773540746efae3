// Package nightly brings the files of a folder in again, each as the latest with the same columns was brought in from the
// screen, and tells whoever did that where it fails.
package nightly

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"uzzel/internal/app"
	"uzzel/internal/bringin"
	"uzzel/internal/mail"
	"uzzel/internal/people"
)

// File is what came of one file.
type File struct {
	Name string
	// Person brought in the latest such file, and is told of this one; 0 where there was none.
	Person  int64
	Outcome *bringin.Outcome // nil where Err is not
	Err     error
}

// Failed says whether somebody has to look after the file.
func (f *File) Failed() bool { return f.Err != nil || len(f.Outcome.Refused) > 0 }

// Told is what there is to say of the file: a line of counts, and each line that is refused with why.
func (f *File) Told(w io.Writer) error {
	if f.Err != nil {
		_, err := fmt.Fprintf(w, "%s: %s\n", f.Name, f.Err)
		return err
	}
	o := f.Outcome
	_, err := fmt.Fprintf(w, "%s: %d new, %d changed, %d as they are, %d refused\n",
		f.Name, o.New, o.Changed, o.Same, len(o.Refused))
	for _, r := range o.Refused {
		if err == nil {
			_, err = fmt.Fprintf(w, "  line %d, %s: %s\n", r.Line, r.Column, r.Reason)
		}
	}
	return err
}

// kinds are the files that are brought in.
var kinds = []string{".csv", ".txt", ".tsv", ".xlsx"}

// Names are the files of a folder that can be brought in, by name.
func Names(dir string) ([]string, error) {
	entries, err := os.ReadDir(dir)
	var names []string
	for _, e := range entries {
		if e.Type().IsRegular() && slices.Contains(kinds, strings.ToLower(filepath.Ext(e.Name()))) {
			names = append(names, e.Name())
		}
	}
	return names, err
}

// Bring brings files of a folder in, those that others link to first.
func Bring(ctx context.Context, a *app.App, dir string, names []string) []File {
	var files []File
	known := map[string]bringin.Known{}
	order := map[string]int{}
	for _, name := range names {
		f := File{Name: name}
		data, err := os.ReadFile(filepath.Join(dir, name))
		if err == nil {
			known[name], err = a.BringIn.Know(ctx, name, data)
			f.Person = known[name].Person
			order[name] = a.BringIn.Place(known[name].Type)
		}
		f.Err = err
		files = append(files, f)
	}
	slices.SortStableFunc(files, func(x, y File) int { return cmp.Compare(order[x.Name], order[y.Name]) })
	for i := range files {
		f := &files[i]
		if f.Err != nil {
			continue
		}
		who, err := a.People.Who(ctx, f.Person)
		if err != nil {
			f.Err = fmt.Errorf("who brought in the last such file cannot sign in any more: %w", err)
			continue
		}
		_, f.Outcome, f.Err = a.BringIn.Again(ctx, a.View(who), known[f.Name])
	}
	return files
}

// mostTold is how many bytes of what was refused a mail has.
const mostTold = 20_000

// Tell mails what failed to those who brought in the last such files, and what nobody did to the administrators. Where
// no server for mail is named nobody is told.
func Tell(ctx context.Context, a *app.App, files []File) error {
	texts := map[string]*strings.Builder{}
	accounts, err := a.People.Accounts(ctx)
	if err != nil {
		return err
	}
	for i := range files {
		f := &files[i]
		if !f.Failed() {
			continue
		}
		for _, who := range accounts {
			owns := who.ID == f.Person
			if f.Person == 0 || !slices.ContainsFunc(accounts, func(o people.Account) bool { return o.ID == f.Person }) {
				owns = who.Administers()
			}
			if !owns || who.Email == "" {
				continue
			}
			if texts[who.Email] == nil {
				texts[who.Email] = &strings.Builder{}
			}
			if err := f.Told(texts[who.Email]); err != nil {
				return err
			}
		}
	}
	var letters []mail.Letter
	for to, text := range texts {
		said := text.String()
		if len(said) > mostTold {
			said = strings.ToValidUTF8(said[:mostTold], "") + "…\n"
		}
		letters = append(letters, mail.Letter{
			To: to, Subject: "Files that were not all brought in", Text: said + "\nWhat came is listed under Bring in.\n",
		})
	}
	if len(letters) == 0 {
		return nil
	}
	if err := a.Mail.Send(ctx, letters); !errors.Is(err, mail.ErrNone) {
		return err
	}
	return nil
}
