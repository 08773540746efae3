package brief

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"reflect"
	"strconv"
	"strings"

	"uzzel/core/period"
)

// Problem is one thing wrong with a brief.
type Problem struct {
	Pointer string `json:"pointer" doc:"JSON pointer to the member at fault"`
	Message string `json:"message" doc:"What is wrong, and what would be right"`
}

// Problems is everything wrong with a brief.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, one := range p {
		at := one.Pointer
		if at == "" {
			at = "/"
		}
		lines[i] = at + ": " + one.Message
	}
	return strings.Join(lines, "\n")
}

func (p *Problems) add(at, format string, args ...any) {
	if len(*p) < 100 {
		*p = append(*p, Problem{at, fmt.Sprintf(format, args...)})
	}
}

// MaxBytes is the largest brief that is read.
const MaxBytes = 1 << 20

// Decode reads a brief from JSON. What is not of the format (unknown members, wrong types, a name twice in one
// object) comes back as Problems that name the members; whether the brief makes sense on a schema is Bind's question.
func Decode(data []byte) (*Brief, error) {
	if len(data) > MaxBytes {
		return nil, Problems{{"", "the brief is larger than a megabyte"}}
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	r := reader{}
	node, err := r.node(d, "", 0)
	if err == nil {
		if _, end := d.Token(); end != io.EOF {
			err = fmt.Errorf("there is more after the end of the brief")
		}
	}
	if err != nil {
		return nil, Problems{{"", "this is not JSON: " + strings.TrimPrefix(err.Error(), "json: ")}}
	}
	var b Brief
	r.into(node, reflect.ValueOf(&b).Elem(), "")
	if len(r.problems) > 0 {
		return nil, r.problems
	}
	return &b, nil
}

type reader struct{ problems Problems }

type member struct {
	name  string
	value any
}

// node reads one JSON value, objects as lists of members so that a name that occurs twice is seen.
func (r *reader) node(d *json.Decoder, at string, depth int) (any, error) {
	if depth > 100 {
		return nil, fmt.Errorf("values are nested more than a hundred deep")
	}
	tok, err := d.Token()
	if err != nil {
		return nil, err
	}
	switch tok {
	case json.Delim('{'):
		members := []member{}
		seen := map[string]bool{}
		for d.More() {
			key, err := d.Token()
			if err != nil {
				return nil, err
			}
			name := key.(string)
			here := at + "/" + escape(name)
			if seen[name] {
				r.problems.add(here, "this member stands twice")
			}
			seen[name] = true
			v, err := r.node(d, here, depth+1)
			if err != nil {
				return nil, err
			}
			members = append(members, member{name, v})
		}
		_, err = d.Token()
		return members, err
	case json.Delim('['):
		list := []any{}
		for d.More() {
			v, err := r.node(d, at+"/"+strconv.Itoa(len(list)), depth+1)
			if err != nil {
				return nil, err
			}
			list = append(list, v)
		}
		_, err = d.Token()
		return list, err
	}
	return tok, nil
}

func escape(s string) string {
	return strings.NewReplacer("~", "~0", "/", "~1").Replace(s)
}

func (r *reader) into(node any, to reflect.Value, at string) {
	switch to.Interface().(type) {
	case Moment:
		r.moment(node, to.Addr().Interface().(*Moment), at)
		return
	case Whose:
		r.whose(node, to.Addr().Interface().(*Whose), at)
		return
	case Period:
		r.period(node, to.Addr().Interface().(*Period), at)
		return
	}
	switch to.Kind() {
	case reflect.Pointer:
		v := reflect.New(to.Type().Elem())
		r.into(node, v.Elem(), at)
		to.Set(v)
	case reflect.Struct:
		r.object(node, to, at)
	case reflect.Slice:
		list, ok := node.([]any)
		if !ok {
			r.wrong(node, at, "a list")
			return
		}
		to.Set(reflect.MakeSlice(to.Type(), len(list), len(list)))
		for i, v := range list {
			r.into(v, to.Index(i), at+"/"+strconv.Itoa(i))
		}
	case reflect.Map:
		members, ok := node.([]member)
		if !ok {
			r.wrong(node, at, "an object")
			return
		}
		to.Set(reflect.MakeMap(to.Type()))
		for _, m := range members {
			v := reflect.New(to.Type().Elem()).Elem()
			r.into(m.value, v, at+"/"+escape(m.name))
			to.SetMapIndex(reflect.ValueOf(m.name), v)
		}
	default:
		r.scalar(node, to, at)
	}
}

func (r *reader) scalar(node any, to reflect.Value, at string) {
	switch to.Kind() {
	case reflect.String:
		if s, ok := node.(string); ok {
			if len(s) > MaxText {
				r.problems.add(at, "a text in a report has %d bytes at most, not %d", MaxText, len(s))
			}
			to.SetString(s)
			return
		}
		r.wrong(node, at, "text in quotes")
	case reflect.Bool:
		if b, ok := node.(bool); ok {
			to.SetBool(b)
			return
		}
		r.wrong(node, at, "true or false")
	case reflect.Int:
		if n, ok := node.(json.Number); ok {
			if i, err := strconv.ParseInt(n.String(), 10, 64); err == nil && i >= math.MinInt32 && i <= math.MaxInt32 {
				to.SetInt(i)
				return
			}
		}
		r.wrong(node, at, "a whole number")
	}
}

func (r *reader) wrong(node any, at, want string) {
	got := "null"
	switch v := node.(type) {
	case []member:
		got = "an object"
	case []any:
		got = "a list"
	case string:
		got = strconv.Quote(v[:min(len(v), 100)])
	case bool:
		got = strconv.FormatBool(v)
	case json.Number:
		got = v.String()
	}
	r.problems.add(at, "this should be %s, not %s", want, got)
}

func fieldsOf(t reflect.Type) map[string][]int {
	names := map[string][]int{}
	for i := range t.NumField() {
		f := t.Field(i)
		if f.Anonymous {
			for name, index := range fieldsOf(f.Type) {
				names[name] = append([]int{i}, index...)
			}
			continue
		}
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if name != "-" {
			names[name] = []int{i}
		}
	}
	return names
}

func (r *reader) object(node any, to reflect.Value, at string) {
	members, ok := node.([]member)
	if !ok {
		r.wrong(node, at, "an object")
		return
	}
	names := fieldsOf(to.Type())
	if to.Type() == reflect.TypeFor[Brief]() {
		delete(names, "key")
	}
	for _, m := range members {
		index, ok := names[m.name]
		if !ok {
			known := make([]string, 0, len(names))
			for n := range names {
				known = append(known, n)
			}
			r.problems.add(at+"/"+escape(m.name), "unknown member%s", near(m.name, known))
			continue
		}
		r.into(m.value, to.FieldByIndex(index), at+"/"+escape(m.name))
	}
}

func (r *reader) whose(node any, w *Whose, at string) {
	if s, ok := node.(string); ok {
		w.Word = s
		if s != "everyone" && s != "mine" && s != "team" {
			r.problems.add(at, "%q is not one of everyone, mine, team, or an object with people and teams", s)
		}
		return
	}
	var lists struct {
		People []string `json:"people"`
		Teams  []string `json:"teams"`
	}
	r.object(node, reflect.ValueOf(&lists).Elem(), at)
	w.People, w.Teams = lists.People, lists.Teams
	if _, ok := node.([]member); ok && lists.People == nil && lists.Teams == nil {
		r.problems.add(at, "name people or teams")
	}
}

// DecodePeriod reads a period that stands for itself, as a brief's main period has it.
func DecodePeriod(data []byte) (Period, error) {
	b, err := Decode([]byte(`{"version":1,"start":"x","period":{"field":"x","within":` + string(data) + `}}`))
	if err != nil {
		return Period{}, err
	}
	return b.Period.Within, nil
}

func (r *reader) period(node any, p *Period, at string) {
	if s, ok := node.(string); ok {
		p.Word = s
		if p.Check() != nil {
			r.problems.add(at, "unknown period %q%s", s, near(s, period.Words()))
		}
		return
	}
	var o struct {
		Last    *int        `json:"last"`
		Next    *int        `json:"next"`
		Unit    period.Unit `json:"unit"`
		Current *bool       `json:"current"`
		From    *string     `json:"from"`
		To      *string     `json:"to"`
	}
	before := len(r.problems)
	r.object(node, reflect.ValueOf(&o).Elem(), at)
	if len(r.problems) > before {
		return
	}
	rolling := o.Last != nil || o.Next != nil
	switch {
	case o.Last != nil && o.Next != nil:
		r.problems.add(at, "last and next contradict each other")
	case rolling && (o.From != nil || o.To != nil):
		r.problems.add(at, "a rolling period has no from or to")
	case !rolling && (o.Unit != "" || o.Current != nil):
		r.problems.add(at, "unit and current go with last or next")
	case (o.Last != nil && *o.Last < 1) || (o.Next != nil && *o.Next < 1):
		r.problems.add(at, "a rolling period has at least one unit")
	}
	if len(r.problems) > before {
		return
	}
	if o.Last != nil {
		p.Last = *o.Last
	}
	if o.Next != nil {
		p.Next = *o.Next
	}
	p.Unit = o.Unit
	p.Current = rolling && (o.Current == nil || *o.Current)
	if o.From != nil {
		p.From = *o.From
	}
	if o.To != nil {
		p.To = *o.To
	}
	if err := p.Check(); err != nil {
		r.problems.add(at, "%s", err)
	}
}

// UnmarshalJSON reads a whole brief inside other JSON, as strictly as Decode.
func (b *Brief) UnmarshalJSON(data []byte) error {
	got, err := Decode(data)
	if err == nil {
		*b = *got
	}
	return err
}
