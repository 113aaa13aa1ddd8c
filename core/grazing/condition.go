package grazing

import (
	"fmt"
	"strings"

	"fjell/core/quantity"
)

// Body condition is scored by hand over loin and ribs, 1 thin to 5 fat, in quarters.
const (
	thinnest = 1
	fattest  = 5
	quarter  = 4
)

// SeenClass is what was seen of one class of a mob: its condition, and the tags of those to be looked after.
type SeenClass struct {
	ClassID   string   `json:"class_id"`
	Condition *float64 `json:"condition,omitempty"` // 1 thin to 5 fat, by hand, in quarters
	Scored    int      `json:"scored_head,omitempty"`
	Lame      string   `json:"lame_tags,omitempty"`
	Thin      string   `json:"thin_tags,omitempty"`
}

// longestTags is how many letters a list of tags has.
const longestTags = 300

// CheckSeen refuses what cannot have been seen of a class; at is where it stands in the list.
func (s SeenClass) CheckSeen(at int) error {
	field := fmt.Sprintf("animals[%d].", at)
	if c := s.Condition; c != nil && (!(*c >= thinnest && *c <= fattest) || *c*quarter != float64(int(*c*quarter))) {
		return quantity.Refuse(field+"condition", *c, "must be 1 to 5 in quarters, such as 2.75")
	}
	if s.Scored < 0 || s.Scored > 10000 {
		return quantity.Refuse(field+"scored_head", s.Scored, "must be 0 to 10 000 head")
	}
	for name, tags := range map[string]string{"lame_tags": s.Lame, "thin_tags": s.Thin} {
		if n := len([]rune(tags)); n > longestTags {
			return quantity.Refuse(field+name, n, "at most %d letters", longestTags)
		}
	}
	return nil
}

// Empty tells whether nothing was said of the class.
func (s SeenClass) Empty() bool {
	return s.Condition == nil && strings.TrimSpace(s.Lame) == "" && strings.TrimSpace(s.Thin) == ""
}

// Minds is what of a class wants somebody, its name before it.
func (s SeenClass) Minds(name string) []Reason {
	var out []Reason
	if tags := strings.TrimSpace(s.Lame); tags != "" {
		out = append(out, Because(name+" lame: "+tags+". Look at the foot; ask your vet where it does not mend"))
	}
	if tags := strings.TrimSpace(s.Thin); tags != "" {
		out = append(out, Because(name+" thin: "+tags+". Feed, teeth, worms: ask your vet"))
	}
	return out
}
