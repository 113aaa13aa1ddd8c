package store

import (
	"time"

	"fjell/core/grazing"
)

// The records, one struct a table. Every farm record is keyed by (farm_id, id), so that a foreign key cannot reach
// over a farm's wall.

// User is a person with a password.
type User struct {
	ID           string `gorm:"primaryKey"`
	Email        string
	Name         string
	PasswordHash string
	CreatedAt    time.Time
}

// SignInAttempt is a failed sign-in, by address of the account or of the network.
type SignInAttempt struct {
	ID   string `gorm:"primaryKey"`
	Mark string
	At   time.Time
}

// HeldClock is the clock of the demo, held still.
type HeldClock struct {
	ID int `gorm:"primaryKey"`
	At time.Time
}

// TableName of the one-row table.
func (HeldClock) TableName() string { return "held_clock" }

// Farm is a farm and its habits.
type Farm struct {
	ID          string `gorm:"primaryKey"`
	Name        string
	Place       string
	TimeZone    string
	Units       string
	Aims        JSON[[]string]
	Experience  string
	Longitude   float64
	Latitude    float64
	MoveMinutes JSON[[]int]
	Version     int
	CreatedAt   time.Time
}

// Member is a user's role on a farm.
type Member struct {
	FarmID string `gorm:"primaryKey"`
	UserID string `gorm:"primaryKey"`
	Role   string
}

// Write remembers an id a client made, and what it asked for.
type Write struct {
	FarmID string `gorm:"primaryKey"`
	ID     string `gorm:"primaryKey"`
	Digest string
}

// Field is land inside a permanent fence.
type Field struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	Name      string
	SwardID   string
	RemovedAt *time.Time
	Version   int
}

// FieldShape is a field's boundary from a day on.
type FieldShape struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	FieldID   string
	ValidFrom Day
	Shape     Geometry
	AreaHa    float64
}

// Exclusion is ground inside a field that is not grazed.
type Exclusion struct {
	FarmID  string `gorm:"primaryKey"`
	ID      string `gorm:"primaryKey"`
	FieldID string
	Name    string
	Shape   Geometry
}

// Layout is a way a field is divided, between two days.
type Layout struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	FieldID    string
	Name       string
	HoldsFrom  Day
	HoldsUntil *Day
}

// Paddock is a grazing unit of a layout.
type Paddock struct {
	FarmID        string `gorm:"primaryKey"`
	ID            string `gorm:"primaryKey"`
	LayoutID      string
	Name          string
	Position      int
	SwardID       string
	GrowthFactor  float64
	LegumeShare   *float64
	ClosedFor     string
	CarriedLeftAt *time.Time
	Version       int
}

// PaddockShape is a paddock's outline from a day on.
type PaddockShape struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	PaddockID string
	ValidFrom Day
	Shape     Geometry
	AreaHa    float64
	FenceM    float64
}

// Mob is animals that graze together.
type Mob struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	Name        string
	Letter      string
	Glyph       string
	DescribedOn Day
	RemovedAt   *time.Time
	Version     int
}

// MobClass is one class of a mob, as it was on the day the mob was described.
type MobClass struct {
	FarmID         string `gorm:"primaryKey"`
	MobID          string `gorm:"primaryKey"`
	Position       int    `gorm:"primaryKey;autoIncrement:false"`
	ReferenceID    string
	DisplayedName  string
	Count          int
	LiveWeightKg   float64
	IntakeShare    float64
	SupplementKgDm float64
	Substitution   float64
	DailyGainKg    float64
}

// MobField is a field that a mob grazes.
type MobField struct {
	FarmID  string `gorm:"primaryKey"`
	MobID   string `gorm:"primaryKey"`
	FieldID string `gorm:"primaryKey"`
}

// Measurement is what somebody found standing in a paddock.
type Measurement struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	PaddockID   string
	Method      string
	Figures     JSON[map[string]float64]
	Readings    JSON[[]float64]
	Guess       *float64
	ForageMass  float64
	HalfWidth   float64
	SharedError float64
	Note        string
	MeasuredAt  time.Time
	RecordedAt  time.Time
	RecordedBy  string
	ReplacesID  *string
	Withdrawn   bool
}

// Move is a mob's move as it really happened.
type Move struct {
	FarmID        string `gorm:"primaryKey"`
	ID            string `gorm:"primaryKey"`
	MobID         string
	FromPaddockID *string
	ToPaddockID   *string
	MovedAt       time.Time
	LeftHeightCm  *float64
	LeftMass      *float64
	LeftHalfWidth *float64
	Note          string
	RecordedAt    time.Time
	RecordedBy    string
	ReplacesID    *string
	Withdrawn     bool
}

// Plan is a plan of moves; its rows are computed, never stored.
type Plan struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	StartsOn  Day
	Days      int
	Version   int
	CreatedAt time.Time
}

// PlanMob is a mob of a plan with the plan's copy of its school.
type PlanMob struct {
	FarmID string `gorm:"primaryKey"`
	PlanID string `gorm:"primaryKey"`
	MobID  string `gorm:"primaryKey"`
	School JSON[grazing.School]
}

// Pin is a move of a plan that a person has fixed.
type Pin struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	PlanID    string
	MobID     string
	PaddockID string
	EnterAt   time.Time
	LeaveAt   *time.Time
}

// AcceptedPlan is a plan as it stood when somebody accepted it.
type AcceptedPlan struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	PlanID     string
	AcceptedAt time.Time
	AcceptedBy string
	Visits     JSON[any]
}
