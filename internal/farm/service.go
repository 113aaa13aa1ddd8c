package farm

import (
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/quantity"
)

// Service holds what every use case needs.
type Service struct {
	DB    *gorm.DB
	Clock *Clock
	// PrivateTiles lets map tiles come from machines of the house's own network. Only its keeper can know whether that is
	// wanted: whoever may set a farm's tiles can then ask those machines.
	PrivateTiles bool
	FarmBytes    int64 // room for photos and pictures of one farm; 0: the usual

	gates   gates
	hashing hashing
	studio  studio
	readers studio
}

// Role is what a member may do on a farm; each includes the ones below it.
type Role string

// The roles.
const (
	Viewer  Role = "viewer"  // looks
	Hand    Role = "hand"    // walks and moves
	Manager Role = "manager" // land, stock, plans
	Owner   Role = "owner"   // the farm and its people
)

var rank = map[Role]int{Viewer: 1, Hand: 2, Manager: 3, Owner: 4}

// Known tells whether there is such a role.
func (r Role) Known() bool { return rank[r] > 0 }

// Includes tells whether a role covers another.
func (r Role) Includes(other Role) bool { return rank[r] >= rank[other] && rank[r] > 0 }

// Actor is who acts, on which farm, as what.
type Actor struct {
	UserID string
	FarmID string
	Role   Role
	Key    string // the client's own id of this request, where it makes no record that has one
}

// Errors a use case can end in, beside a *quantity.Problem for a refused field.
var (
	ErrNotFound  = errors.New("there is no such thing on this farm")
	ErrStep      = errors.New("somebody has changed the land since: look again at what would be taken back")
	ErrSameID    = errors.New("this id was already used for something else")
	ErrSignIn    = errors.New("e-mail or password is not right")
	ErrForbidden = errors.New("your role on this farm does not cover this")
)

// Unusual asks a person to confirm figures that are possible but strange.
type Unusual struct{ Problems []quantity.Problem }

func (u *Unusual) Error() string {
	texts := make([]string, len(u.Problems))
	for i, p := range u.Problems {
		texts[i] = p.Message
	}
	return strings.Join(texts, "; ")
}

// Changed says that a record was changed by somebody else since it was read.
type Changed struct {
	Yours  int
	Stored int
	Record any
}

func (c *Changed) Error() string {
	return fmt.Sprintf("somebody changed this meanwhile (you saw version %d, it is at %d): look again before you save", c.Yours, c.Stored)
}

// Judge holds a body's figures against their bands: the impossible is refused, the unusual asked about once.
func Judge(body any, confirmed bool) error {
	raw, err := json.Marshal(body)
	if err != nil {
		return quantity.Refuse("body", nil, "these figures cannot be written down: %v", err)
	}
	unusual, err := quantity.CheckJSON(raw)
	if err != nil {
		return err
	}
	if len(unusual) > 0 && !confirmed {
		return &Unusual{unusual}
	}
	return nil
}

// CheckName refuses empty and overlong names and returns the trimmed one.
func CheckName(field, value string) (string, error) {
	value = strings.TrimSpace(value)
	if value == "" {
		return "", quantity.Refuse(field, nil, "give it a name")
	}
	if n := len([]rune(value)); n > 80 {
		return "", quantity.Refuse(field, n, "a name has at most 80 letters")
	}
	return value, nil
}

// CheckID refuses ids that are not UUIDs.
func CheckID(field, id string) error {
	if len(id) != 36 || uuid.Validate(id) != nil {
		return quantity.Refuse(field, id, "must be a UUID")
	}
	return nil
}

// NewID makes an id for what the farm itself writes down.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

// Find loads one record of a farm by id, or says that field names nothing.
func Find[T any](tx *gorm.DB, farmID, field, id string) (T, error) {
	var row T
	err := gorm.ErrRecordNotFound
	if uuid.Validate(id) == nil {
		err = tx.First(&row, "farm_id = ? AND id = ?", farmID, id).Error
	}
	if errors.Is(err, gorm.ErrRecordNotFound) {
		if field == "" {
			return row, ErrNotFound
		}
		return row, quantity.Refuse(field, id, "is not known on this farm")
	}
	return row, err
}

// Bump raises a record's version if it still is what the person saw.
func Bump[T any](tx *gorm.DB, farmID, id string, seen, stored int, view func() any) error {
	if seen != stored {
		return &Changed{seen, stored, view()}
	}
	var row T
	res := tx.Model(&row).Where("farm_id = ? AND id = ? AND version = ?", farmID, id, seen).Update("version", seen+1)
	if res.Error != nil {
		return res.Error
	}
	if res.RowsAffected == 0 {
		return &Changed{seen, seen + 1, nil}
	}
	return nil
}
