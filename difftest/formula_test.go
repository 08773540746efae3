package difftest

import (
	"fmt"
	"math"
	"strings"
	"time"
)

// fx is a formula as a tree that is written, put in SQL and worked out by itself.
type fx struct {
	op   string // a number, ref, text, today, or an operator or function of the grammar
	args []*fx
	name string
}

var infixes = strings.Fields("+ - * / == != < <= > >= and or")

// formulas are those that were written, by their text.
var formulas = map[string]*fx{}

func num(s string) *fx                { return &fx{op: "num", name: s} }
func ref(s string) *fx                { return &fx{op: "ref", name: s} }
func call(op string, args ...*fx) *fx { return &fx{op: op, args: args} }
func written(x *fx) string            { t := x.text(); formulas[t] = x; return t }
func (x *fx) infix() bool             { return place(infixes, x.op) >= 0 }
func dayStart(day string) int64 {
	t, _ := time.ParseInLocation("2006-01-02", day, lisbon)
	return t.Unix()
}
func (x *fx) arg(i int, s *scope) string { return x.args[i].sql(s) }

func (x *fx) text() string {
	switch x.op {
	case "num", "ref":
		return x.name
	case "text":
		return `"` + x.name + `"`
	case "neg":
		return "-" + x.args[0].text()
	case "not":
		return "not (" + x.args[0].text() + ")"
	}
	if x.infix() {
		return "(" + x.args[0].text() + " " + x.op + " " + x.args[1].text() + ")"
	}
	var args []string
	for _, a := range x.args {
		args = append(args, a.text())
	}
	return x.op + "(" + strings.Join(args, ", ") + ")"
}

func (x *fx) refs() []string {
	if x.op == "ref" {
		return []string{x.name}
	}
	var out []string
	for _, a := range x.args {
		out = append(out, a.refs()...)
	}
	return out
}

func (x *fx) sql(s *scope) string {
	switch x.op {
	case "num":
		return x.name + "e0"
	case "ref":
		v := s.path(x.name)
		switch {
		case v.kind == "percent":
			return "(" + v.sql + " / 100.0)"
		case v.day != "":
			return v.day
		case v.kind == "yesno":
			return "COALESCE(" + v.sql + ", 0)"
		case v.sumOf:
			return "COALESCE(" + v.sql + ", 0)"
		case v.kind == "text" || v.kind == "choice":
			return v.folded
		}
		return v.sql
	case "text":
		return quote(fold(x.name))
	case "today":
		return quote(today)
	case "neg":
		return "(-" + x.arg(0, s) + ")"
	case "not":
		return "(NOT " + x.arg(0, s) + ")"
	case "and", "or":
		return "(" + x.arg(0, s) + " " + x.op + " " + x.arg(1, s) + ")"
	case "==", "!=", "<", "<=", ">", ">=":
		op := strings.Replace(strings.Replace(x.op, "==", "=", 1), "!=", "<>", 1)
		return "COALESCE(" + x.arg(0, s) + " " + op + " " + x.arg(1, s) + ", 0)"
	case "+", "-", "*":
		return "(" + x.arg(0, s) + " " + x.op + " " + x.arg(1, s) + ")"
	case "/":
		return "(CAST(" + x.arg(0, s) + " AS REAL) / " + x.arg(1, s) + ")"
	case "if":
		return fmt.Sprintf("(CASE WHEN %s THEN %s ELSE %s END)", x.arg(0, s), x.arg(1, s), x.arg(2, s))
	case "first_filled":
		return "COALESCE(" + x.arg(0, s) + ", " + x.arg(1, s) + ")"
	case "days":
		return fmt.Sprintf("CAST(julianday(%s) - julianday(%s) AS INTEGER)", x.arg(1, s), x.arg(0, s))
	}
	var args []string
	for i := range x.args {
		args = append(args, x.arg(i, s))
	}
	return x.op + "(" + strings.Join(args, ", ") + ")"
}

// opt is a number or none.
type opt struct {
	n  float64
	ok bool
}

// eval works a summary's formula out from the values of others.
func (x *fx) eval(get func(key string) opt) opt {
	switch x.op {
	case "num":
		var f float64
		_, _ = fmt.Sscan(x.name, &f)
		return opt{f, true}
	case "ref":
		return get(x.name)
	case "if":
		if x.args[0].eval(get).n != 0 {
			return x.args[1].eval(get)
		}
		return x.args[2].eval(get)
	}
	a := x.args[0].eval(get)
	if x.op == "first_filled" {
		if a.ok {
			return a
		}
		return x.args[1].eval(get)
	}
	b := opt{ok: true}
	if len(x.args) > 1 {
		b = x.args[1].eval(get)
	}
	there := a.ok && b.ok
	bit := func(v bool) opt {
		if v && there {
			return opt{1, true}
		}
		return opt{0, true}
	}
	switch x.op {
	case ">":
		return bit(a.n > b.n)
	case "<=":
		return bit(a.n <= b.n)
	}
	if !there || (x.op == "/" && b.n == 0) {
		return opt{}
	}
	switch x.op {
	case "+":
		return opt{a.n + b.n, true}
	case "-":
		return opt{a.n - b.n, true}
	case "*":
		return opt{a.n * b.n, true}
	case "/":
		return opt{a.n / b.n, true}
	case "neg":
		return opt{-a.n, true}
	case "abs":
		return opt{math.Abs(a.n), true}
	case "min":
		return opt{math.Min(a.n, b.n), true}
	case "max":
		return opt{math.Max(a.n, b.n), true}
	}
	panic("no " + x.op)
}
