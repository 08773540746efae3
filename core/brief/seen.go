package brief

import (
	"fmt"

	"uzzel/core/schema"
)

// Door is the kind of worked-out link (schema.Worked) that leads to no record but to more fields: a report's own ones
// behind "own", and those of the records that it brings behind their link.
const Door = "door"

// TypesSeen are the record types that a report, or one of its parts, sees in another way than the schema has them: its start,
// with a door to its own fields and to what it brings, and those that the doors lead to. What is not right yet in the
// part is left out. With nothing of its own, or with more than a report may have (docs/limits.md), there are none.
func TypesSeen(s *schema.Schema, p *Part) []schema.Type {
	if s.Type(p.Start) == nil || (p.Bring == nil && len(p.Own) == 0) {
		return nil
	}
	c := newChecker(s)
	if c.sizes(&Brief{Part: *p}); len(c.problems) > 0 {
		return nil
	}
	scope := &scope{
		schema: s,
		levels: []*Level{{Type: s.Type(p.Start), Keep: true}},
		own:    map[string]*Value{},
		open:   map[string]bool{},
	}
	c.bring(p.Bring, scope, "")
	list := []schema.Type{*scope.start()}
	if own := c.owns(p.Own, scope, ""); len(own) > 0 {
		t := schema.Type{Key: "~own", Label: "Own fields", One: "own field"}
		for i, v := range own {
			if v != nil {
				t.Fields = append(t.Fields, schema.Field{Key: p.Own[i].Key, Label: v.Label, Kind: kindOf(v)})
			}
		}
		list[0].Fields = append(list[0].Fields[:len(list[0].Fields):len(list[0].Fields)], door("own", "Own", t.Key))
		list = append(list, t)
	}
	at := 0
	for i, level := range scope.levels[1:] {
		// A copy, so that what is brought further is behind this link alone.
		t := *level.Type
		t.Key = fmt.Sprintf("~brought%d", i)
		list[at].Fields = append(list[at].Fields[:len(list[at].Fields):len(list[at].Fields)],
			door(level.Back.Key, level.Back.Label, t.Key))
		at, list = len(list), append(list, t)
	}
	return list
}

// kindOf is what an own field is grouped and narrowed as: values put under labels are choices.
func kindOf(v *Value) schema.Kind {
	if v.Own.Bands != nil || v.Own.Merge != nil {
		return schema.Choice
	}
	return v.Kind
}

func door(key, label, to string) schema.Field {
	return schema.Field{
		Key:    key,
		Label:  label,
		Kind:   schema.Link,
		To:     to,
		Worked: &schema.Worked{As: Door, Of: []string{}},
	}
}
