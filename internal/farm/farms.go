package farm

import (
	"context"
	"errors"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/internal/store"
)

// FarmInput is what a person says of a farm.
type FarmInput struct {
	Name       string   `json:"name"`
	Place      string   `json:"place"`
	TimeZone   string   `json:"time_zone"`
	Units      string   `json:"units" enum:"metric,imperial"`
	Aims       []string `json:"aims" nullable:"false"`
	Experience string   `json:"experience" enum:"beginner,some,old_hand"`
	Longitude  float64  `json:"longitude"`
	Latitude   float64  `json:"latitude"`
}

// NewFarm is a farm with the id its maker gave it.
type NewFarm struct {
	ID string `json:"id"`
	FarmInput
}

// FarmView is a farm as its members see it.
type FarmView struct {
	ID string `json:"id"`
	FarmInput
	Role       Role                 `json:"role"`
	Moving     Moving               `json:"moving"`
	Emergency  store.Emergency      `json:"emergency"`
	Routine    grazing.RoutineEdits `json:"routine"` // what it makes of the usual steps of a move day
	Targets    store.Targets        `json:"targets"`
	Voices     grazing.Voices       `json:"voices"` // how it speaks to those who have not said how it should
	Currency   string               `json:"currency" doc:"of its prices, three letters; empty: nobody said"`
	Drought    store.Drought        `json:"drought"` // what it does when growth lags
	Version    int                  `json:"version"`
	Now        time.Time            `json:"now"`
	ClockHeld  bool                 `json:"clock_held"`
	ClockMoves bool                 `json:"clock_moves"`
}

func (in *FarmInput) check() error {
	var err error
	if in.Name, err = CheckName("name", in.Name); err != nil {
		return err
	}
	if len([]rune(in.Place)) > 80 {
		return quantity.Refuse("place", nil, "a place has at most 80 letters")
	}
	if _, err := time.LoadLocation(in.TimeZone); err != nil || in.TimeZone == "" || in.TimeZone == "Local" {
		return quantity.Refuse("time_zone", in.TimeZone, "is not a time zone, such as Europe/Oslo")
	}
	if in.Units != string(quantity.Metric) && in.Units != string(quantity.Imperial) {
		return quantity.Refuse("units", in.Units, "must be metric or imperial")
	}
	for _, a := range in.Aims {
		if !slices.Contains(grazing.Aims, a) {
			return quantity.Refuse("aims", a, "must be among %s", strings.Join(grazing.Aims, ", "))
		}
	}
	switch in.Experience {
	case grazing.Beginner, grazing.Some, grazing.OldHand:
	default:
		return quantity.Refuse("experience", in.Experience, "must be beginner, some or old_hand")
	}
	if math.IsNaN(in.Longitude) || math.Abs(in.Longitude) > 180 {
		return quantity.Refuse("longitude", in.Longitude, "must be between −180° and 180°")
	}
	if math.IsNaN(in.Latitude) || math.Abs(in.Latitude) > 85 {
		return quantity.Refuse("latitude", in.Latitude, "must be between −85° and 85°")
	}
	if in.Aims == nil {
		in.Aims = []string{}
	}
	return nil
}

// CreateFarm makes a farm; its maker is the owner.
func (s *Service) CreateFarm(ctx context.Context, userID string, in NewFarm) (FarmView, error) {
	if err := CheckID("id", in.ID); err != nil {
		return FarmView{}, err
	}
	if err := in.check(); err != nil {
		return FarmView{}, err
	}
	digest, err := DigestOf("farm", in)
	if err != nil {
		return FarmView{}, err
	}
	row := store.Farm{ID: in.ID, FactsVersion: 1, MoveMinutes: store.JSON[[]int]{V: []int{8 * 60, 18 * 60}}, MoveWeekdays: store.JSON[[]int]{V: []int{}},
		Away: store.JSON[[]store.Away]{V: []store.Away{}}, Emergency: store.JSON[store.Emergency]{V: store.Emergency{Contacts: []store.Contact{}}}, Routine: store.JSON[grazing.RoutineEdits]{V: grazing.RoutineEdits{Own: []grazing.OwnStep{}, Left: []string{}}}, SoilMm: usualSoilMm, Version: 1, CreatedAt: time.Now().UTC()}
	in.fill(&row)
	err = store.Atomically(ctx, s.DB, func(tx *gorm.DB) error {
		var mine int64
		if err := tx.Model(&store.Member{}).Where("user_id = ? AND role = ? AND farm_id <> ?", userID, Owner, in.ID).Count(&mine).Error; err != nil {
			return err
		}
		if mine >= mostFarms {
			return quantity.Refuse("farm", mine, "a person owns at most %d farms here", mostFarms)
		}
		err := tx.Create(&row).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			if _, err := MemberRole(tx, in.ID, userID); err != nil {
				return ErrSameID
			}
			repeat, err := once(tx, in.ID, in.ID, digest)
			if err == nil && !repeat {
				err = ErrSameID
			}
			return err
		}
		if err != nil {
			return err
		}
		if err := tx.Create(&store.Member{FarmID: in.ID, UserID: userID, Role: string(Owner)}).Error; err != nil {
			return err
		}
		_, err = once(tx, in.ID, in.ID, digest)
		return err
	})
	return After(Say(err), func() (FarmView, error) { return s.Farm(ctx, Actor{UserID: userID, FarmID: in.ID, Role: Owner}) })
}

// mostFarms is how many farms one person may own.
const mostFarms = 50

// usualSoilMm is the water a middling soil holds for roots.
const usualSoilMm = 90

func (in FarmInput) fill(row *store.Farm) {
	row.Name, row.Place, row.TimeZone, row.Units, row.Experience = in.Name, in.Place, in.TimeZone, in.Units, in.Experience
	row.Longitude, row.Latitude, row.Aims.V = in.Longitude, in.Latitude, in.Aims
}

// BumpFarm raises the version of the farm's settings, if it still is what the person saw.
func (tx *Writing) BumpFarm(seen int) error {
	if tx.Farm.Version != seen {
		view, err := tx.service.view(tx.Statement.Context, tx.Farm, tx.Actor.Role)
		if err != nil {
			return err
		}
		return &Changed{seen, tx.Farm.Version, view}
	}
	tx.Farm.Version++
	return tx.Model(&store.Farm{}).Where("id = ?", tx.Farm.ID).Update("version", tx.Farm.Version).Error
}

func (s *Service) view(ctx context.Context, row store.Farm, role Role) (FarmView, error) {
	now, err := s.Clock.Now(ctx)
	return FarmView{row.ID, FarmInput{row.Name, row.Place, row.TimeZone, row.Units, row.Aims.V, row.Experience, row.Longitude, row.Latitude},
		role, movingOf(row), EmergencyOf(row), routineOf(row), row.Targets.V, grazing.UsualVoices(row.Experience, row.Aims.V), row.Currency, row.Drought.V, row.Version, now, s.Clock.Held(), s.Clock.Demo}, err
}

// Farm returns the farm an actor stands on.
func (s *Service) Farm(ctx context.Context, a Actor) (FarmView, error) {
	var row store.Farm
	if err := s.DB.WithContext(ctx).First(&row, "id = ?", a.FarmID).Error; err != nil {
		return FarmView{}, err
	}
	return s.view(ctx, row, a.Role)
}

// Farms lists the farms a user is a member of.
func (s *Service) Farms(ctx context.Context, userID string) ([]FarmView, error) {
	var members []store.Member // a person's own farms come first
	if err := s.DB.WithContext(ctx).Joins("JOIN farms ON farms.id = members.farm_id").Order("members.role = 'owner' DESC, farms.created_at, farms.id").
		Find(&members, "user_id = ?", userID).Error; err != nil {
		return nil, err
	}
	out := []FarmView{}
	for _, m := range members {
		v, err := s.Farm(ctx, Actor{UserID: userID, FarmID: m.FarmID, Role: Role(m.Role)})
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

// UpdateFarm changes what is said of a farm.
func (s *Service) UpdateFarm(ctx context.Context, a Actor, version int, in FarmInput) (FarmView, error) {
	if err := in.check(); err != nil {
		return FarmView{}, err
	}
	err := s.Write(ctx, a, Request{"", "farm", []any{version, in}}, func(tx *Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		row := tx.Farm
		in.fill(&row)
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).
			Select("name", "place", "time_zone", "units", "experience", "longitude", "latitude", "aims").Updates(&row).Error
	})
	return After(err, func() (FarmView, error) { return s.Farm(ctx, a) })
}

// ErrStranger says that a user is not a member of a farm, or that there is none: the two look alike from outside.
var ErrStranger = errors.New("there is no such farm among yours")

// MemberRole is what a user is on a farm; ErrStranger where they are nothing there.
func MemberRole(tx *gorm.DB, farmID, userID string) (Role, error) {
	var m store.Member
	err := tx.First(&m, "farm_id = ? AND user_id = ?", farmID, userID).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return "", ErrStranger
	}
	return Role(m.Role), err
}

// Membership is what a user is on a farm, and what its pages rest on: the version of its facts and the moment.
type Membership struct {
	Role   Role
	Facts  int64
	Moment time.Time
	Units  quantity.System
}

// Membership asks, in one go, for a user's role on a farm and the state of its facts; ErrStranger where there is none.
func (s *Service) Membership(ctx context.Context, farmID, userID string) (Membership, error) {
	var row struct {
		Role         string
		Units        string
		FactsVersion int64
		At           *time.Time
	}
	if uuid.Validate(farmID) != nil {
		return Membership{}, ErrStranger
	}
	err := s.DB.WithContext(ctx).Raw("SELECT m.role, f.units, f.facts_version, c.at FROM members m JOIN farms f ON f.id = m.farm_id LEFT JOIN held_clock c ON c.id = 1 WHERE m.farm_id = ? AND m.user_id = ?",
		farmID, userID).Scan(&row).Error
	if err != nil {
		return Membership{}, err
	}
	if row.Role == "" {
		return Membership{}, ErrStranger
	}
	out := Membership{Role: Role(row.Role), Facts: row.FactsVersion, Units: quantity.System(row.Units)}
	switch {
	case s.Clock.Demo && row.At != nil:
		out.Moment = *row.At
	case s.Clock.Fixed != nil:
		out.Moment = *s.Clock.Fixed
	default:
		out.Moment = time.Now().UTC().Truncate(Slot)
	}
	return out, nil
}

// MemberView is a person of a farm, or one who is asked to become one.
type MemberView struct {
	UserID  string `json:"user_id"`
	Email   string `json:"email"`
	Name    string `json:"name"`
	Role    Role   `json:"role" enum:"owner,manager,hand,viewer"`
	Invited bool   `json:"invited" doc:"asked, and has not answered yet"`
}

// Members lists a farm's people, then those who are asked.
func (s *Service) Members(ctx context.Context, a Actor) ([]MemberView, error) {
	out := []MemberView{}
	db := s.DB.WithContext(ctx)
	if err := db.Table("members").Joins("JOIN users ON users.id = members.user_id").Where("members.farm_id = ?", a.FarmID).
		Select("users.id AS user_id, users.email, users.name, members.role").Order("users.name, users.id").Scan(&out).Error; err != nil {
		return nil, err
	}
	asked := []MemberView{}
	err := db.Table("invitations").Joins("JOIN users ON users.id = invitations.user_id").Where("invitations.farm_id = ?", a.FarmID).
		Select("users.id AS user_id, users.email, users.name, invitations.role, TRUE AS invited").Order("users.name, users.id").Scan(&asked).Error
	return append(out, asked...), err
}
