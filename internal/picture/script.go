package picture

import (
	"context"
	"encoding/json"
	"fmt"
	"runtime"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/dop251/goja"
	"github.com/tdewolff/canvas"

	"uzzel/core/chart"
)

// tokens are the colours of the ground that pictures stand on; the names are those of the front end.
type tokens struct {
	Ink, Ink2, Line, Paper, Sunk, Sea, Rust string
	Dark                                    bool
}

// The two grounds, as web/src/app.css has them (TestGroundsAreTheScreens).
var (
	paper = tokens{"#191a1f", "#5f5c56", "#e3dbcb", "#fffdf9", "#efe8d9", "#14706a", "#b4432d", false}
	ink   = tokens{"#f1ece0", "#b5afa2", "#33353d", "#1d1f25", "#272930", "#6cc5ba", "#ee8a70", true}
)

func groundOf(on string) tokens {
	if on == "ink" {
		return ink
	}
	return paper
}

var program = sync.OnceValues(func() (*goja.Program, error) {
	text, err := shipped("draw.js")
	if err != nil {
		return nil, err
	}
	return goja.Compile("draw.js", string(text), true)
})

// what the script expects of a browser, and does not use.
const around = `var self = globalThis;
var matchMedia = function () { return { matches: true }; };
var setTimeout = function () { return 0; }, clearTimeout = function () {};
var console = { log: function () {}, warn: function () {}, error: function () {} };`

// Painter paints pictures. It is used by one at a time; Painters hands them out.
type Painter struct {
	vm   *goja.Runtime
	draw goja.Callable
	l    *letters
	wide map[string]float64 // how wide texts are by font, for as long as a picture is drawn
}

func newPainter() (*Painter, error) {
	prog, err := program()
	if err != nil {
		return nil, err
	}
	p := &Painter{vm: goja.New()}
	if p.l, err = loadLetters(); err != nil {
		return nil, err
	}
	if err = p.vm.Set("measure", p.measure); err != nil {
		return nil, err
	}
	if _, err = p.vm.RunString(around); err != nil {
		return nil, err
	}
	if _, err = p.vm.RunProgram(prog); err != nil {
		return nil, err
	}
	var ok bool
	if p.draw, ok = goja.AssertFunction(p.vm.Get("uzzel").ToObject(p.vm).Get("draw")); !ok {
		return nil, fmt.Errorf("draw.js draws nothing")
	}
	return p, nil
}

// measure is how wide a text is in a font as CSS writes it: "bold 12px …".
func (p *Painter) measure(text, font string) float64 {
	key := font + "\n" + text
	if w, ok := p.wide[key]; ok {
		return w
	}
	w, size := fontOf(font)
	out := p.l.width(text, w, size)
	p.wide[key] = out
	return out
}

func fontOf(css string) (weight, float64) {
	w, size := plain, 12.0
	for _, word := range strings.Fields(css) {
		if word == "bold" || word == "bolder" || word == "600" || word == "700" {
			w = bold
		}
		if n, err := strconv.ParseFloat(strings.TrimSuffix(word, "px"), 64); err == nil && strings.HasSuffix(word, "px") {
			size = n
		}
	}
	return w, size
}

// svg is a drawing as ECharts draws it, in pixels.
func (p *Painter) svg(
	ctx context.Context,
	d *chart.Drawing,
	share bool,
	on tokens,
	width, height float64,
) (string, error) {
	text, err := json.Marshal(d)
	if err != nil {
		return "", err
	}
	p.wide = map[string]float64{}
	stop := context.AfterFunc(ctx, func() { p.vm.Interrupt(ctx.Err()) })
	defer func() {
		stop()
		p.vm.ClearInterrupt()
	}()
	v, err := p.draw(
		goja.Undefined(), p.vm.ToValue(string(text)), p.vm.ToValue(share), p.vm.ToValue(on.script()),
		p.vm.ToValue(width), p.vm.ToValue(height),
	)
	if err != nil {
		if ctx.Err() != nil {
			return "", ctx.Err()
		}
		return "", fmt.Errorf("drawing: %w", err)
	}
	return v.String(), nil
}

func (t tokens) script() map[string]any {
	return map[string]any{
		"ink": t.Ink, "ink2": t.Ink2, "line": t.Line, "paper": t.Paper, "sunk": t.Sunk, "sea": t.Sea, "dark": t.Dark,
	}
}

// Painters are as many painters as the machine has processors; each takes some 20 MB.
type Painters struct {
	free chan *Painter
	once sync.Once
}

// drawTime is how long one picture may take.
const drawTime = 20 * time.Second

// With has a painter paint; it waits until one is free.
func (ps *Painters) With(ctx context.Context, paint func(ctx context.Context, p *Painter) error) error {
	ps.once.Do(func() {
		n := max(1, runtime.GOMAXPROCS(0))
		ps.free = make(chan *Painter, n)
		for range n {
			ps.free <- nil
		}
	})
	var p *Painter
	select {
	case p = <-ps.free:
	case <-ctx.Done():
		return ctx.Err()
	}
	back := p
	defer func() { ps.free <- back }()
	if p == nil {
		made, err := newPainter()
		if err != nil {
			return err
		}
		p, back = made, made
	}
	ctx, stop := context.WithTimeout(ctx, drawTime)
	defer stop()
	return paint(ctx, p)
}

// sheet is something painted: a canvas whose unit is a pixel, with y from the top.
type sheet struct {
	*canvas.Canvas
	l *letters
}

func (p *Painter) sheet(width, height float64) *sheet {
	return &sheet{canvas.New(width, height), p.l}
}
