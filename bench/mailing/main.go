// Command mailing measures how long 200 letters with a dashboard of six panels take at the size of a data file, and how
// much longer somebody who works meanwhile waits for answers. Half of the panels show what is the recipient's own. It works
// on a copy of the file; the letters go to the stand-in for a server for mail.
package main

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net"
	"os"
	"slices"
	"time"

	"uzzel/bench/scratch"
	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/boards"
	"uzzel/internal/deliveries"
	"uzzel/internal/mail"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

func main() { scratch.Main(measure) }

const (
	dashboards = 4
	recipients = 50
)

var panels = []string{
	`{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["open"]},"groups":[{"field":"stage"}],"summaries":[{"key":"t","fn":"sum","of":"value"}],"chart":{"kind":"funnel"}}`,
	`{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["won"]},"period":{"field":"closed","within":"this_year"},"groups":[{"field":"closed","by":"month"}],"summaries":[{"key":"t","fn":"sum","of":"value"}],"compare":"year_before","chart":{"kind":"column"}}`,
	`{"version":1,"start":"deals","period":{"field":"created","within":"this_year"},"groups":[{"field":"customer.segment"},{"field":"status"}],"chart":{"kind":"bar","stacked":true}}`,
	`{"version":1,"start":"deals","whose":"mine","filter":{"field":"status","is":"any_of","values":["open"]},"groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}],"chart":{"kind":"column"}}`,
	`{"version":1,"start":"activities","whose":"mine","groups":[{"field":"kind"}],"chart":{"kind":"pie"}}`,
	`{"version":1,"start":"deals","whose":"team","groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"}],"chart":{"kind":"bar"}}`,
}

func measure(path string) error {
	a, s, err := scratch.App(path)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	ctx := context.Background()
	if err := s.Warm(ctx); err != nil {
		return err
	}
	ids, err := accounts(ctx, s)
	if err != nil {
		return err
	}
	admin, err := a.People.AccountOf(ctx, ids[0])
	if err != nil {
		return err
	}
	view := func() *answers.View { return a.View(admin.Person) }
	stop, err := post(ctx, a, view())
	if err != nil {
		return err
	}
	defer stop()
	folder, err := a.Library.KeepFolder(
		ctx, view(), store.Folder{Name: "Measured", Access: []store.Access{{Kind: store.ForEveryone}}}, 0)
	if err != nil {
		return err
	}
	list := make([]int64, dashboards)
	for i := range list {
		if list[i], err = board(ctx, a, view(), folder.ID, i); err != nil {
			return err
		}
	}
	alone, err := asking(ctx, view, func(n int) bool { return n < 150 })
	if err != nil {
		return err
	}
	for i, pdf := range []bool{false, true} {
		for _, id := range list {
			_, err := a.Sends.Keep(
				ctx,
				view(),
				store.Delivery{Title: "Measured", Kind: store.KindBoard, Item: id},
				deliveries.Terms{
					When: deliveries.When{Every: "day", At: "06:00"}, People: ids[:recipients], Mail: true, Picture: true, PDF: pdf,
				},
			)
			if err != nil {
				return err
			}
		}
		s.Now = func() time.Time { return time.Now().Add(time.Duration(i+1) * 24 * time.Hour) }
		sent := make(chan error, 1)
		began := time.Now()
		go func() { sent <- a.Sends.Tick(ctx) }()
		done := false
		beside, err := asking(ctx, view, func(int) bool {
			select {
			case err = <-sent:
				done = true
			default:
			}
			return !done
		})
		if err != nil {
			return err
		}
		fmt.Printf(
			"%d letters with six pictures%s: %.0f s\n",
			dashboards*recipients,
			map[bool]string{true: " and a PDF"}[pdf],
			time.Since(began).Seconds(),
		)
		for _, p := range []float64{0.5, 0.95} {
			fmt.Printf("  an answer, %2.0f of 100: %.1f ms alone, %.1f ms beside it (%.2f times; %d answers)\n",
				100*p, at(alone, p), at(beside, p), at(beside, p)/at(alone, p), len(beside))
		}
		out, err := a.Sends.Of(ctx, view(), true)
		if err != nil {
			return err
		}
		for _, d := range out {
			if d.Why != "" {
				return fmt.Errorf("a delivery failed: %s", d.Why)
			}
			if err := a.Sends.Delete(ctx, view(), d.ID); err != nil {
				return err
			}
		}
	}
	return nil
}

// accounts lets people sign in, the first as an administrator.
func accounts(ctx context.Context, s *store.Store) ([]int64, error) {
	ids := make([]int64, 0, recipients+1)
	for id := int64(1); id <= recipients+1; id++ {
		role := people.Reader
		if id == 1 {
			role = people.Administrator
		}
		if err := s.PutAccount(ctx, store.Account{Person: id, Role: role, Password: "-"}); err != nil {
			return nil, err
		}
		err := s.Write(ctx, func(w *store.Writer) error {
			return w.Change("people", id, store.Record{"email": fmt.Sprintf("p%d@brinehaven.example", id)})
		})
		if err != nil {
			return nil, err
		}
		ids = append(ids, id)
	}
	return ids, nil
}

// post takes mail.
func post(ctx context.Context, a *app.App, v *answers.View) (stop func(), err error) {
	dir, err := os.MkdirTemp("", "mailing")
	if err != nil {
		return nil, err
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	box := mail.Box(dir)
	go func() { _ = box.Serve(l) }()
	stop = func() {
		_ = box.Close()
		_ = os.RemoveAll(dir)
	}
	return stop, a.Mail.Set(ctx, v, mail.Settings{
		Host: "127.0.0.1", Port: l.Addr().(*net.TCPAddr).Port, Security: mail.Plain,
		From: "Uzzel <uzzel@brinehaven.example>", Address: "https://uzzel.example",
	}, "", "p1@brinehaven.example")
}

// board makes a dashboard of the panels, each over other records than those of the other dashboards.
func board(ctx context.Context, a *app.App, v *answers.View, folder int64, n int) (int64, error) {
	w := boards.WholeBoard{Title: fmt.Sprintf("Measured %d", n)}
	for i, text := range panels {
		b, err := brief.Decode([]byte(text))
		if err != nil {
			return 0, err
		}
		more := brief.Tree{Field: "id", Is: "none_of", Values: []string{fmt.Sprint(n + 1)}}
		b.Filter = b.Filter.And(more)
		w.Panels = append(w.Panels, boards.PlacedReport{
			Panel: store.Panel{X: 6 * (i % 2), Y: 9 * (i / 2), W: 6, H: 9}, Title: fmt.Sprintf("Panel %d of %d", i, n), Brief: b,
		})
	}
	made, err := a.Boards.AddWhole(ctx, v, w, folder)
	return made.ID, err
}

// asking asks a question that was not asked before, ten times a second, as long as more says so, and gives how long each
// answer took, in milliseconds.
func asking(ctx context.Context, view func() *answers.View, more func(n int) bool) ([]float64, error) {
	var took []float64
	for n := 0; more(n); n++ {
		b, err := brief.Decode([]byte(panels[n%3]))
		if err != nil {
			return nil, err
		}
		b.Filter = b.Filter.And(
			brief.Tree{Field: "value", Is: "over", Values: []string{fmt.Sprint(1 + rand.IntN(1_000_000)%5000)}},
		)
		began := time.Now()
		if _, err := view().Ask(ctx, b); err != nil {
			return nil, err
		}
		took = append(took, float64(time.Since(began).Microseconds())/1000)
		time.Sleep(max(0, 100*time.Millisecond-time.Since(began)))
	}
	slices.Sort(took)
	return took, nil
}

func at(list []float64, p float64) float64 { return list[min(len(list)-1, int(p*float64(len(list))))] }
