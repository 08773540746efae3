// Command load asks a running server as a company at work does, first alone and then beside people who mean it harm, and
// says how long the company's answers took, what failed, and how much memory the server had. docs/limits.md has the
// figures of one run.
//
//	go run ./bench/load -url http://127.0.0.1:8080 -metrics http://127.0.0.1:9100/metrics -for 3m
//
// The server serves the demo company; it was given --metrics, and the network of this computer as --proxy, for everyone
// has an address of their own.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
)

func main() {
	url := flag.String("url", "http://127.0.0.1:8080", "the server")
	metrics := flag.String("metrics", "", "its metrics, for its memory")
	password := flag.String("password", "amber beak", "the demo's password")
	readers := flag.Int("readers", 50, "people who read dashboards")
	composers := flag.Int("composers", 5, "people who compose")
	hostile := flag.Int("hostile", 8, "people who mean harm")
	long := flag.Duration("for", 3*time.Minute, "how long, each time")
	flag.Parse()
	if err := run(*url, *metrics, *password, *readers, *composers, *hostile, *long); err != nil {
		fmt.Fprintln(os.Stderr, "load:", err)
		os.Exit(1)
	}
}

// serving waits for the server to be ready.
func serving(url string) error {
	for end := time.Now().Add(time.Minute); ; time.Sleep(100 * time.Millisecond) {
		res, err := http.Get(url + "/readyz")
		if err == nil {
			err = res.Body.Close()
		}
		if err == nil && res.StatusCode == http.StatusOK {
			return nil
		}
		if time.Now().After(end) {
			return fmt.Errorf("no server is ready at %s", url)
		}
	}
}

func run(url, metrics, password string, readers, composers, hostile int, long time.Duration) error {
	if err := serving(url); err != nil {
		return err
	}
	people := make([]*person, 0, readers+composers+hostile)
	for i := range readers + composers + hostile {
		account := 1 + i%6
		if i >= readers+composers {
			account = 7 + i%8 // those who mean harm are others
		}
		p, err := signIn(url, password, i, account)
		if err != nil {
			return fmt.Errorf("person %d: %w", i+1, err)
		}
		people = append(people, p)
	}
	fmt.Printf("%d people are signed in.\n", len(people))
	alone := &phase{
		url:       url,
		metrics:   metrics,
		password:  password,
		people:    people,
		readers:   readers,
		composers: composers,
		name:      "alone",
	}
	beside := &phase{
		url:       url,
		metrics:   metrics,
		password:  password,
		people:    people,
		readers:   readers,
		composers: composers,
		name:      "with hostile readers",
		hostile:   hostile,
	}
	for _, p := range []*phase{alone, beside} {
		if err := p.run(long); err != nil {
			return err
		}
		p.report()
	}
	for _, kind := range kinds {
		alone.took["all"] = append(alone.took["all"], alone.took[kind]...)
		beside.took["all"] = append(beside.took["all"], beside.took[kind]...)
	}
	for _, kind := range append(kinds, "all") {
		a, b := at(alone.took[kind], 95), at(beside.took[kind], 95)
		fmt.Printf(
			"%-8s p95 %7.1f ms alone, %7.1f ms beside: %.2f times\n",
			kind,
			ms(a),
			ms(b),
			float64(b)/float64(max(a, 1)),
		)
	}
	if n := len(alone.failed) + len(beside.failed); n > 0 {
		return fmt.Errorf("%d requests failed", n)
	}
	return nil
}

// kinds are what is measured apart.
var kinds = []string{"open", "answer", "list", "edit", "find"}

// phase is one stretch of time with so many people at work.
type phase struct {
	url, metrics, password, name string
	people                       []*person
	readers, composers, hostile  int

	mu      sync.Mutex
	took    map[string][]time.Duration
	failed  []string
	harm    map[int]int // statuses that hostile requests got
	memory  []float64   // in MB, every second
	longest time.Duration
}

func (p *phase) run(long time.Duration) error {
	p.took, p.harm = map[string][]time.Duration{}, map[int]int{}
	ctx, stop := context.WithTimeout(context.Background(), long)
	defer stop()
	var all sync.WaitGroup
	for i, who := range p.people[:p.readers+p.composers] {
		all.Go(func() {
			r := rand.New(rand.NewPCG(uint64(i), 7))
			for pause(ctx, time.Duration(r.IntN(4000))*time.Millisecond); ctx.Err() == nil; {
				if i < p.readers {
					p.read(ctx, who, r)
				} else {
					p.compose(ctx, who, r)
				}
			}
		})
	}
	for i := range p.hostile {
		who := p.people[p.readers+p.composers+i]
		all.Go(func() { p.harmful(ctx, who, rand.New(rand.NewPCG(uint64(i), 9))) })
	}
	all.Go(func() {
		for ctx.Err() == nil {
			if mb, err := resident(p.metrics); err == nil {
				p.mu.Lock()
				p.memory = append(p.memory, mb)
				p.mu.Unlock()
			}
			pause(ctx, time.Second)
		}
	})
	all.Wait()
	return nil
}

// ask asks something honest and notes how long it took, and what went wrong.
func (p *phase) ask(ctx context.Context, who *person, kind, method, path string, body, into any) bool {
	began := time.Now()
	status, answer, err := who.call(ctx, method, p.url+path, body)
	took := time.Since(began)
	if ctx.Err() != nil {
		return false
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if err != nil || status >= 300 {
		p.failed = append(p.failed, fmt.Sprintf("%s %s: %d %v %.200s", method, path, status, err, answer))
		return false
	}
	p.took[kind] = append(p.took[kind], took)
	return into == nil || json.Unmarshal(answer, into) == nil
}

type report struct {
	ID    int64          `json:"id"`
	Brief map[string]any `json:"brief"`
}

// read opens a dashboard, looks at its panels, at records behind one, and at one record, as a reader does.
func (p *phase) read(ctx context.Context, who *person, r *rand.Rand) {
	var boards []struct {
		ID int64 `json:"id"`
	}
	if !p.ask(ctx, who, "open", "GET", "/api/boards", nil, &boards) || len(boards) == 0 {
		return
	}
	id := boards[r.IntN(len(boards))].ID
	var reports []report
	if !p.ask(ctx, who, "open", "GET", fmt.Sprintf("/api/boards/%d", id), nil, nil) ||
		!p.ask(ctx, who, "open", "GET", fmt.Sprintf("/api/boards/%d/reports", id), nil, &reports) {
		return
	}
	var panels sync.WaitGroup
	for _, one := range reports {
		panels.Go(func() { p.ask(ctx, who, "answer", "POST", "/api/answer", map[string]any{"brief": one.Brief}, nil) })
	}
	panels.Wait()
	pause(ctx, time.Duration(2000+r.IntN(6000))*time.Millisecond)
	if len(reports) > 0 {
		p.ask(ctx, who, "list", "POST", "/api/list", map[string]any{"brief": reports[r.IntN(len(reports))].Brief}, nil)
	}
	p.ask(
		ctx,
		who,
		"find",
		"GET",
		"/api/find?search="+[]string{"deal", "won", "visits", "team", "stage"}[r.IntN(5)],
		nil,
		nil,
	)
	pause(ctx, time.Duration(1000+r.IntN(3000))*time.Millisecond)
}

// compose asks one question after the other, each a little different, as someone who composes does.
func (p *phase) compose(ctx context.Context, who *person, r *rand.Rand) {
	b := map[string]any{"version": 1, "start": "deals"}
	steps := []func(){
		func() {
			b["period"] = map[string]any{"field": "created", "within": map[string]any{"last": 1 + r.IntN(24), "unit": "month"}}
		},
		func() {
			b["filter"] = map[string]any{
				"all": []any{map[string]any{"field": "value", "is": "over", "values": []string{strconv.Itoa(r.IntN(50_000))}}},
			}
		},
		func() {
			b["groups"] = []any{map[string]any{"field": []string{"stage", "owner", "customer.country", "source"}[r.IntN(3)]}}
		},
		func() {
			b["summaries"] = []any{
				map[string]any{"key": "n", "fn": "count"},
				map[string]any{"key": "v", "fn": []string{"sum", "average", "median"}[r.IntN(3)], "of": "value"},
			}
		},
		func() { b["across"] = []any{map[string]any{"field": "created", "by": "quarter"}} },
	}
	for _, step := range steps {
		step()
		p.ask(ctx, who, "edit", "POST", "/api/answer", map[string]any{"brief": b}, nil)
		pause(ctx, time.Duration(500+r.IntN(1500))*time.Millisecond)
	}
}

// harmful asks the largest things that it can think of, one after the other and without a pause.
func (p *phase) harmful(ctx context.Context, who *person, r *rand.Rand) {
	for ctx.Err() == nil {
		method, path, body := worst[r.IntN(len(worst))](r)
		within, stop := ctx, func() {}
		if r.IntN(4) == 0 { // goes away
			within, stop = context.WithTimeout(ctx, time.Duration(r.IntN(500))*time.Millisecond)
		}
		began := time.Now()
		status, _, _ := who.call(within, method, p.url+path, body)
		stop()
		p.mu.Lock()
		p.harm[status]++
		p.longest = max(p.longest, time.Since(began))
		p.mu.Unlock()
	}
}

func asked(b map[string]any) map[string]any { return map[string]any{"brief": b} }

// nonce makes a question unlike those before, so that no answer is kept.
func nonce(r *rand.Rand) map[string]any {
	return map[string]any{
		"field":  "value",
		"is":     "over",
		"values": []string{fmt.Sprintf("-%d.%02d", r.IntN(1e9), r.IntN(100))},
	}
}

// worst are requests that cost the most.
var worst = []func(r *rand.Rand) (method, path string, body any){
	func(r *rand.Rand) (string, string, any) { // own fields that read another twice
		own := []any{map[string]any{"key": "a0", "formula": "value * 2"}}
		for i := 1; i < 20; i++ {
			own = append(
				own,
				map[string]any{"key": fmt.Sprintf("a%d", i), "formula": fmt.Sprintf("own.a%d + own.a%d", i-1, i-1)},
			)
		}
		return "POST", "/api/answer", asked(
			map[string]any{
				"version":   1,
				"start":     "deals",
				"filter":    nonce(r),
				"own":       own,
				"summaries": []any{map[string]any{"key": "s", "fn": "sum", "of": "own.a19"}},
			},
		)
	},
	func(r *rand.Rand) (string, string, any) { // summaries that square one another
		list := []any{map[string]any{"key": "a0", "fn": "sum", "of": "value"}}
		for i := 1; i < 16; i++ {
			list = append(list, map[string]any{"key": fmt.Sprintf("a%d", i), "formula": fmt.Sprintf("a%d * a%d", i-1, i-1)})
		}
		return "POST", "/api/answer", asked(
			map[string]any{
				"version":   1,
				"start":     "deals",
				"filter":    nonce(r),
				"groups":    []any{map[string]any{"field": "owner"}},
				"summaries": list,
			},
		)
	},
	func(r *rand.Rand) (string, string, any) { // very many cells
		return "POST", "/api/answer", map[string]any{
			"lines": 20000,
			"brief": map[string]any{
				"version":   1,
				"start":     "deals",
				"filter":    nonce(r),
				"groups":    []any{map[string]any{"field": "customer"}},
				"across":    []any{map[string]any{"field": "created", "by": "day"}},
				"summaries": []any{map[string]any{"key": "n", "fn": "count"}},
			},
		}
	},
	func(r *rand.Rand) (string, string, any) { // every day by every day
		return "POST", "/api/answer", asked(
			map[string]any{
				"version": 1,
				"start":   "deals",
				"filter":  nonce(r),
				"groups": []any{
					map[string]any{"field": "created", "by": "day", "every": true},
					map[string]any{"field": "expected_close", "by": "day", "every": true},
				},
				"summaries": []any{map[string]any{"key": "n", "fn": "count", "show": "running_total"}},
			},
		)
	},
	func(r *rand.Rand) (string, string, any) { // medians of the finest groups, across lines
		return "POST", "/api/answer", asked(
			map[string]any{
				"version": 1,
				"start":   "activities",
				"groups":  []any{map[string]any{"field": "deal"}, map[string]any{"field": "id"}},
				"summaries": []any{
					map[string]any{"key": "m", "fn": "median", "of": "minutes"},
					map[string]any{"key": "r", "fn": "average", "of": "minutes", "show": "percent_of_total"},
				},
				"limit": 1 + r.IntN(1000),
			},
		)
	},
	func(r *rand.Rand) (string, string, any) { // every record, with conditions on links of links
		return "POST", "/api/list", map[string]any{
			"from": r.IntN(1000),
			"brief": map[string]any{
				"version": 1,
				"start":   "activities",
				"filter": map[string]any{
					"all": []any{map[string]any{"link": "customer.activities", "is": "some", "at_least": 1 + r.IntN(90)}},
				},
				"order": []any{map[string]any{"field": "minutes", "desc": true}},
			},
		}
	},
	func(r *rand.Rand) (string, string, any) { // all records in a file
		return "POST", "/api/export", map[string]any{
			"view":   "records",
			"format": []string{"csv", "xlsx", "json"}[r.IntN(3)],
			"brief":  map[string]any{"version": 1, "start": "activities", "limit": 100000 + r.IntN(1000)},
		}
	},
	func(r *rand.Rand) (string, string, any) { // wrong passwords
		return "POST", "/api/session", map[string]any{
			"email":    fmt.Sprintf("nobody%d@brinehaven.example", r.IntN(1000)),
			"password": "wrong",
		}
	},
	func(r *rand.Rand) (string, string, any) { // a long sentence
		return "POST", "/api/typed", map[string]any{"text": strings.Repeat("deals by stage and ", 1+r.IntN(200))}
	},
}

// person is someone who is signed in.
type person struct {
	http.Client
	cookie  *http.Cookie
	address string
}

func signIn(url, password string, n, account int) (*person, error) {
	p := &person{
		address: fmt.Sprintf("10.0.%d.%d", n/250, n%250),
		Client:  http.Client{Timeout: 90 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 16}},
	}
	for try := 0; ; try++ {
		data, err := json.Marshal(
			map[string]string{"email": fmt.Sprintf("p%d@brinehaven.example", account), "password": password},
		)
		if err != nil {
			return nil, err
		}
		req, err := http.NewRequest(http.MethodPost, url+"/api/session", bytes.NewReader(data))
		if err != nil {
			return nil, err
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("X-Forwarded-For", p.address)
		res, err := p.Do(req)
		if err != nil {
			return nil, err
		}
		if err := res.Body.Close(); err != nil {
			return nil, err
		}
		for _, c := range res.Cookies() {
			p.cookie = &http.Cookie{Name: c.Name, Value: c.Value}
		}
		if p.cookie != nil {
			return p, nil
		}
		if res.StatusCode != http.StatusTooManyRequests || try > 30 {
			return nil, fmt.Errorf("signing in: %s", res.Status)
		}
		time.Sleep(2 * time.Second)
	}
}

func (p *person) call(ctx context.Context, method, url string, body any) (int, []byte, error) {
	var data io.Reader
	if body != nil {
		text, err := json.Marshal(body)
		if err != nil {
			return 0, nil, err
		}
		data = bytes.NewReader(text)
	}
	req, err := http.NewRequestWithContext(ctx, method, url, data)
	if err != nil {
		return 0, nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Forwarded-For", p.address)
	req.AddCookie(p.cookie)
	res, err := p.Do(req)
	if err != nil {
		return 0, nil, err
	}
	answer, err := io.ReadAll(res.Body)
	return res.StatusCode, answer, errors.Join(err, res.Body.Close())
}

var memory = regexp.MustCompile(`(?m)^process_resident_memory_bytes (\S+)$`)

// resident is the server's memory in MB.
func resident(metrics string) (float64, error) {
	if metrics == "" {
		return 0, errors.New("no metrics")
	}
	res, err := http.Get(metrics)
	if err != nil {
		return 0, err
	}
	text, err := io.ReadAll(res.Body)
	if err := errors.Join(err, res.Body.Close()); err != nil {
		return 0, err
	}
	m := memory.FindSubmatch(text)
	if m == nil {
		return 0, errors.New("no memory among the metrics")
	}
	bytes, err := strconv.ParseFloat(string(m[1]), 64)
	return bytes / (1 << 20), err
}

func pause(ctx context.Context, d time.Duration) {
	select {
	case <-ctx.Done():
	case <-time.After(d):
	}
}

func ms(d time.Duration) float64 { return float64(d) / float64(time.Millisecond) }

// at is the value below which so many of a hundred are.
func at(list []time.Duration, percent int) time.Duration {
	if len(list) == 0 {
		return 0
	}
	slices.Sort(list)
	return list[min(len(list)*percent/100, len(list)-1)]
}

func (p *phase) report() {
	fmt.Printf("\n%s\n", p.name)
	for _, kind := range kinds {
		list := p.took[kind]
		fmt.Printf(
			"  %-8s %6d requests, median %7.1f ms, p95 %7.1f ms, longest %7.1f ms\n",
			kind,
			len(list),
			ms(at(list, 50)),
			ms(at(list, 95)),
			ms(at(list, 100)),
		)
	}
	if len(p.memory) > 0 {
		fmt.Printf(
			"  memory   %.0f MB at first, %.0f MB at the end, %.0f MB at most\n",
			p.memory[0],
			p.memory[len(p.memory)-1],
			slices.Max(p.memory),
		)
	}
	if p.hostile > 0 {
		fmt.Printf("  hostile  %v, the longest %v\n", p.harm, p.longest.Round(time.Millisecond))
	}
	fmt.Printf("  failed   %d\n", len(p.failed))
	for _, f := range p.failed[:min(len(p.failed), 5)] {
		fmt.Println("    ", f)
	}
}
