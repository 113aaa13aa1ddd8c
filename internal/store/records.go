package store

import (
	"encoding/json"
	"time"

	"fjell/core/grazing"
	"fjell/core/land"
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
	TileAddress string
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
	Kind    string
	Name    string
	Shape   Geometry
}

// Layout is a way a field is divided.
type Layout struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	FieldID   string
	Name      string
	Intent    string
	Temporary bool
	RemovedAt *time.Time
}

// LayoutSpan is the days a layout holds: from one day until before another, or on.
type LayoutSpan struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	FieldID    string
	LayoutID   string
	HoldsFrom  Day
	HoldsUntil *Day
	Carried    bool
}

// Mark is a thing that stands on the land: a gate, water, a fence, a lane.
type Mark struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	Kind      string
	Name      string
	Temporary bool
	WidthM    *float64
	Path      Path
}

// Zone is ground of a field that grows more or less than the rest.
type Zone struct {
	FarmID       string `gorm:"primaryKey"`
	ID           string `gorm:"primaryKey"`
	FieldID      string
	Name         string
	GrowthFactor float64
	Shape        Geometry
}

// LandStep is one edit of the land and the rows it wrote.
type LandStep struct {
	FarmID  string `gorm:"primaryKey"`
	ID      string `gorm:"primaryKey"`
	Batch   string
	Label   string
	Changes JSON[[]RowChange]
	Undone  bool
	MadeAt  time.Time
	MadeBy  string
}

// RowChange is one row of an edit, as it was and as it is; nil where there was none.
type RowChange struct {
	Table  string          `json:"table"`
	Before json.RawMessage `json:"before,omitempty"`
	After  json.RawMessage `json:"after,omitempty"`
}

// GroundPicture is the farm's own picture of its ground. Corners are its top left, top right and bottom left.
type GroundPicture struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	Name        string
	ContentType string
	Corners     JSON[[3][2]float64]
	Content     []byte
}

// Heights is contours drawn from the heights a farm brought.
type Heights struct {
	FarmID   string `gorm:"primaryKey"`
	ID       string `gorm:"primaryKey"`
	Name     string
	StepM    float64
	Contours JSON[[]land.Contour]
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
	Purpose       string
	SlopeDegrees  *float64
	Wetness       string
	Aspect        string
	Shade         string
	HasWater      *bool
	Limits        JSON[[]PaddockLimit]
	RestFrom      *Day
	Notes         string
	CarriedLeftAt *time.Time
	EndedOn       *Day
	Version       int
}

// PaddockLimit is a limit to grazing: of some days of every year, or of every day.
type PaddockLimit struct {
	Kind  string `json:"kind" enum:"hay,nesting,closed,not_wet,no_water_in_frost,sheep_only"`
	From  string `json:"from,omitempty" doc:"MM-DD; empty: all year"`
	Until string `json:"until,omitempty" doc:"MM-DD, the first day it no longer holds"`
	Note  string `json:"note,omitempty"`
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
