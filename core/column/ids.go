package column

import (
	"sort"
	"strconv"
)

// IDs are the ids of a table's rows in their order: whole numbers first, by value, then the others by code point.
type IDs struct {
	nums  []int64  // while every id is a plain whole number
	texts []string // otherwise
	rows  map[string]int32
}

// plainInt reads an id that is written as Go would write the number.
func plainInt(s string) (int64, bool) {
	n, err := strconv.ParseInt(s, 10, 64)
	return n, err == nil && strconv.FormatInt(n, 10) == s
}

// wholeNumber says whether an id is a whole number, also one with leading zeros.
func wholeNumber(s string) (int64, bool) {
	n, err := strconv.ParseInt(s, 10, 64)
	return n, err == nil && s[0] != '+'
}

// LessID is the order of ids.
func LessID(a, b string) bool {
	x, okX := wholeNumber(a)
	y, okY := wholeNumber(b)
	if okX != okY {
		return okX
	}
	if okX && x != y {
		return x < y
	}
	return a < b
}

// At is the id of a row.
func (ids *IDs) At(row int32) string {
	if ids.texts != nil {
		return ids.texts[row]
	}
	return strconv.FormatInt(ids.nums[row], 10)
}

// Row finds the row of an id, −1 where there is none.
func (ids *IDs) Row(id string) int32 {
	if ids.texts != nil {
		if r, ok := ids.rows[id]; ok {
			return r
		}
		return -1
	}
	n, ok := plainInt(id)
	if !ok {
		return -1
	}
	return ids.rowOf(n)
}

func (ids *IDs) rowOf(n int64) int32 {
	if len(ids.nums) == 0 {
		return -1
	}
	if at := n - ids.nums[0]; at >= 0 && at < int64(len(ids.nums)) && ids.nums[at] == n {
		return int32(at)
	}
	i := sort.Search(len(ids.nums), func(i int) bool { return ids.nums[i] >= n })
	if i < len(ids.nums) && ids.nums[i] == n {
		return int32(i)
	}
	return -1
}
