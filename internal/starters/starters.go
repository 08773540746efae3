// Package starters holds the ready reports that ship with the application.
package starters

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"sync"

	"uzzel/core/brief"
)

// Starter is a ready report, to be used as it is or kept as one's own.
type Starter struct {
	Key      string
	Category string
	Title    string
	About    string
	Brief    *brief.Brief
}

//go:embed starters.json
var file []byte

// All lists the starters, those of one category together.
var All = sync.OnceValue(func() []Starter {
	list, err := read(file)
	if err != nil {
		panic(err)
	}
	return list
})

// Set is a ready dashboard: starters in their places.
type Set struct {
	Key    string
	Title  string
	About  string
	Panels []Placed
}

// Placed is a starter with its place and size in cells of a grid twelve wide.
type Placed struct {
	Starter    Starter
	X, Y, W, H int
}

//go:embed sets.json
var setsFile []byte

// Sets lists the ready dashboards.
var Sets = sync.OnceValue(func() []Set {
	list, err := readSets(setsFile)
	if err != nil {
		panic(err)
	}
	return list
})

func readSets(file []byte) ([]Set, error) {
	var kept []struct {
		Key, Title, About string
		Panels            [][]any
	}
	if err := json.Unmarshal(file, &kept); err != nil {
		return nil, err
	}
	byKey := map[string]Starter{}
	for _, s := range All() {
		byKey[s.Key] = s
	}
	list := make([]Set, len(kept))
	for i, k := range kept {
		list[i] = Set{Key: k.Key, Title: k.Title, About: k.About}
		for _, p := range k.Panels {
			key, _ := p[0].(string)
			starter, ok := byKey[key]
			if !ok || len(p) != 5 {
				return nil, fmt.Errorf("set %s: there is no starter %q", k.Key, key)
			}
			placed := Placed{Starter: starter}
			for n, into := range []*int{&placed.X, &placed.Y, &placed.W, &placed.H} {
				v, _ := p[n+1].(float64)
				*into = int(v)
			}
			list[i].Panels = append(list[i].Panels, placed)
		}
	}
	return list, nil
}

func read(file []byte) ([]Starter, error) {
	var kept []struct {
		Key, Category, Title, About string
		Brief                       json.RawMessage
	}
	if err := json.Unmarshal(file, &kept); err != nil {
		return nil, err
	}
	list := make([]Starter, len(kept))
	for i, k := range kept {
		b, err := brief.Decode(k.Brief)
		if err != nil {
			return nil, fmt.Errorf("starter %s: %w", k.Key, err)
		}
		list[i] = Starter{k.Key, k.Category, k.Title, k.About, b}
	}
	return list, nil
}
