package store

import (
	"encoding/json"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/core/queue"
	"fjell/core/year"
)

// The records, one struct a table. Every farm record is keyed by (farm_id, id), so that a foreign key cannot reach
// over a farm's wall.

// User is a person with a password.
type User struct {
	ID           string `gorm:"primaryKey"`
	Email        string
	Name         string
	PasswordHash string
	Minding      JSON[MindingChoice]
	PutAway      JSON[[]PutAway]
	CreatedAt    time.Time
}

// PutAway is a caution that a person has seen: it is quiet for them until its conditions return.
type PutAway struct {
	FarmID  string `json:"farm_id"`
	Caution string `json:"caution"`
	Since   Day    `json:"since" doc:"the first day of those on which its conditions were met, when it was put away"`
}

// MindingChoice is which kinds of what needs minding a person wants quiet, and which first.
type MindingChoice struct {
	Own   bool     `json:"own,omitempty" doc:"they have said so; else it goes by the farm's aims and its people's experience"`
	Quiet []string `json:"quiet" nullable:"false"`
	First []string `json:"first" nullable:"false"`
}

// Session is somebody signed in, by the digest of the token their browser has.
type Session struct {
	Token  string `gorm:"primaryKey"`
	Data   []byte
	Expiry time.Time
}

// SignInAttempt is something tried at the door, by whom or from where.
type SignInAttempt struct {
	ID   string `gorm:"primaryKey"`
	Kind string
	Mark string
	At   time.Time
}

// KnownDevice is a browser from which a person has signed in before, by the digest of its cookie.
type KnownDevice struct {
	UserID string `gorm:"primaryKey"`
	Digest string `gorm:"primaryKey"`
	SeenAt time.Time
}

// Invitation is a person asked to join a farm in a role.
type Invitation struct {
	FarmID    string `gorm:"primaryKey"`
	UserID    string `gorm:"primaryKey"`
	Role      string
	InvitedBy string
	InvitedAt time.Time
}

// AuditLine is something a farm's keepers may want to know of afterwards.
type AuditLine struct {
	ID     int64 `gorm:"primaryKey"`
	FarmID string
	At     time.Time
	UserID string
	What   string
	About  string
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
	ID           string `gorm:"primaryKey"`
	Name         string
	Place        string
	TimeZone     string
	Units        string
	Aims         JSON[[]string]
	Experience   string
	Longitude    float64
	Latitude     float64
	MoveMinutes  JSON[[]int]
	MoveWeekdays JSON[[]int]
	Away         JSON[[]Away]
	MostMoves    int // on one day; 0: any number
	Emergency    JSON[Emergency]
	Routine      JSON[grazing.RoutineEdits]
	Targets      JSON[Targets]
	TileAddress  string
	WalkOrder    JSON[[]string]
	QueueOrder   JSON[[]string]
	Currency     string // three letters; empty: nobody said
	Drought      JSON[Drought]
	CutLoss      *float64 // share of a cut that is lost before it is stored; nil: nobody said
	FeedLoss     *float64 // share of what is fed that falls under the trough; nil: nobody said
	Curves       JSON[map[string]string]
	CurveMonths  JSON[map[string]int]
	SoilMm       float64
	ElevationM   float64
	Coast        string
	NormalsC     JSON[[]float64]
	StationSeed  *int64
	StationFrom  *Day
	Version      int // of the settings above
	// FactsVersion is raised by every write on the farm. It also is the farm's own sequence: what is written later has
	// the larger one, whatever the clocks of processes say.
	FactsVersion int64
	// Parts are the facts' versions at which each part was last written.
	Parts     JSON[map[Part]int64]
	CreatedAt time.Time
}

// Drought is what a farm does when growth lags, and when it is too wet to graze.
type Drought struct {
	Trigger float64   `json:"trigger,omitempty"` // share of ordinary growth by a critical date below which stock leave; 0: nobody said
	Leave   []Leaving `json:"leave,omitempty"`   // in this order
	Wet     string    `json:"wet,omitempty"`     // where stock stand when it is too wet, and who is called
}

// Leaving is whose stock leave, how many at most, and where to.
type Leaving struct {
	Group string  `json:"group"` // its name
	Most  float64 `json:"most"`  // share of its head
	Where string  `json:"where,omitempty"`
}

// Targets is what a farm wants of its ground and its fences; what is nil is as usual.
type Targets struct {
	Ground  grazing.GroundTarget `json:"ground"`
	LeastKV *float64             `json:"least_kv,omitempty" doc:"at the far end of a fence, for every species; left out: the usual of each"`
}

// Away is days on which nobody is there to move stock, both ends among them.
type Away struct {
	From  Day `json:"from_on"`
	Until Day `json:"until_on"`
}

// Emergency is whom to call, where to send them and what to shut first, when something goes wrong on a farm.
type Emergency struct {
	Contacts  []Contact `json:"contacts" nullable:"false"` // in the order in which they are called
	Where     string    `json:"where"`                     // how to get there, as one tells a driver
	Longitude *float64  `json:"longitude" nullable:"true"` // of the gate to come to; null: the farm's own
	Latitude  *float64  `json:"latitude" nullable:"true"`
	ShutFirst string    `json:"shut_first"`      // gates, valves, switches
	Also      string    `json:"also"`            // bulls, dogs, what else to know
	SignedOut bool      `json:"open_signed_out"` // may be opened on a phone that was signed in once
}

// Contact is somebody to call.
type Contact struct {
	Who   string `json:"who"` // and what for: "Vet, Tveit"
	Phone string `json:"phone"`
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
	Version   int
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
	Seq     int64  // the facts' version it made
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
	HereSince   *Day // nil: described on the day they came
	Housed      JSON[[]Housed]
	RemovedAt   *time.Time
	Version     int
}

// Housed is a stretch in which a mob stands in the house and eats no grass, from a day until before another.
type Housed struct {
	From  string `json:"from"`
	Until string `json:"until,omitempty" doc:"the first day out; empty: not known yet"`
}

// OwnClass is a class of animals of the farm's own, like one of the reference.
type OwnClass struct {
	FarmID        string `gorm:"primaryKey"`
	ID            string `gorm:"primaryKey"`
	Name          string
	LikeID        string
	LiveWeightKg  float64
	IntakeShare   float64
	DailyGainKg   float64
	LivestockUnit float64
}

// OwnSward is a sward of the farm's own, like one of the reference: heights in cm, masses in kg DM/ha.
type OwnSward struct {
	FarmID       string `gorm:"primaryKey"`
	ID           string `gorm:"primaryKey"`
	Name         string
	LikeID       string
	StartCm      float64
	StopCm       float64
	MassPerCm    float64 // kg DM/ha at medium cover
	ResidualKg   float64
	CeilingKg    float64
	PeakGrowth   float64 // kg DM/ha/day
	AnnualYieldT float64 // t DM/ha
}

// StockGroup is a class of animals of a mob, or outside any, as it was on the day it was first described.
type StockGroup struct {
	FarmID       string `gorm:"primaryKey"`
	ID           string `gorm:"primaryKey"`
	MobID        *string
	Position     int
	ReferenceID  string
	Name         string
	DescribedOn  Day
	Head         int
	LiveWeightKg float64
	IntakeShare  float64
	DailyGainKg  float64
	Supplements  JSON[[]Supplement]
}

// Supplement is feed beside pasture, from a day until before another.
type Supplement struct {
	Name         string  `json:"name,omitempty"`
	From         string  `json:"from"`
	Until        string  `json:"until,omitempty" doc:"the first day without it; empty: goes on"`
	KgDM         float64 `json:"supplement_kg_dm"`
	Substitution float64 `json:"substitution"`
}

// StockEvent is what happens to stock, as planned and as it was.
type StockEvent struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	Kind        string
	PlannedOn   *Day
	PlannedHead *int
	HappenedOn  *Day
	Head        int
	FromID      *string
	IntoID      *string
	OfID        *string
	WeightKg    *float64
	Becomes     string
	IntakeShare *float64
	GainKg      *float64
	Note        string
	RecordedAt  time.Time
	RecordedBy  string
	ReplacesID  *string
	Withdrawn   bool
}

// MobField is a field that a mob grazes.
type MobField struct {
	FarmID  string `gorm:"primaryKey"`
	MobID   string `gorm:"primaryKey"`
	FieldID string `gorm:"primaryKey"`
}

// Measurement is what somebody found standing in a paddock.
type Measurement struct {
	FarmID        string `gorm:"primaryKey"`
	ID            string `gorm:"primaryKey"`
	PaddockID     string
	Method        string
	Figures       JSON[map[string]float64]
	Readings      JSON[[]float64]
	ReadingCount  int `gorm:"-" json:"-"` // where the readings themselves are not read
	Guess         *float64
	ForageMass    float64
	HalfWidth     float64
	SharedError   float64
	SamplingError float64 // 0: told by the half-widths
	Note          string
	Details       JSON[measuring.Input]
	CalibrationID *string
	Source        string
	Reason        string
	Answer        string
	MeasuredAt    time.Time
	RecordedAt    time.Time
	RecordedBy    string
	ReplacesID    *string
	Withdrawn     bool
}

// Calibration is a line from height to mass, fitted through clips.
type Calibration struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	Name        string
	Method      string
	SwardID     string
	SeasonFrom  string
	SeasonUntil string
	MadeOn      Day
	Pairs       JSON[[]forage.Pair]
	Slope       float64
	Intercept   float64
	RSquared    float64
	ErrorKg     float64
	Retired     bool
	Version     int
	CreatedAt   time.Time
}

// Device is what sends readings by itself.
type Device struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	Name        string
	Kind        string
	TokenDigest string
	Revoked     bool
	CreatedAt   time.Time
}

// Reading is one reading as it came.
type Reading struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	StopID     *string
	PaddockID  *string
	DeviceID   *string
	Source     string
	Method     string
	Value      float64
	Zone       string
	Longitude  *float64
	Latitude   *float64
	TakenAt    time.Time
	ReceivedAt time.Time
	TakenBy    *string
	Dropped    bool
}

// Photo is a picture taken on a walk.
type Photo struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	StopID      string
	PaddockID   string
	ContentType string
	Content     []byte
	TakenAt     time.Time
	TakenBy     string
	Stage       string // of a stay: before, during, after; empty: none said
	Point       string // that it is taken from again and again; empty: none
}

// WeatherDay is one day's weather.
type WeatherDay struct {
	FarmID string `gorm:"primaryKey"`
	Day    Day    `gorm:"primaryKey"`
	RainMm float64
	MeanC  float64
	LeastC *float64
	MostC  *float64
	SunH   *float64
	Source string
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
	Counted       *int     // head through the gate
	SourceKV      *float64 // volts of the next fence at its source, kV
	EndKV         *float64 // and at its far end
	DrinkSeen     *bool    // one of them drank; nil: nobody said
	Note          string
	RecordedAt    time.Time
	RecordedBy    string
	ReplacesID    *string
	Withdrawn     bool
}

// GateCall is what was seen at a gate, what was said of it, and what was done. The measurement of the same id holds the figure.
type GateCall struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	MobID      string
	PaddockID  string
	SeenAt     time.Time
	Mass       float64
	Said       string
	Did        string
	Reason     string
	RecordedAt time.Time
	RecordedBy string
}

// Condition is what somebody says is so, from a day until before another: the cautions go by it.
type Condition struct {
	FarmID   string `gorm:"primaryKey"`
	ID       string `gorm:"primaryKey"`
	Name     string // of the reference's variables
	Value    JSON[any]
	FromDay  Day
	UntilDay *Day
	SaidBy   string
	SaidAt   time.Time
}

// Job is something to be done. One that comes again is a new job each time.
type Job struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	Kind      string
	What      string
	PaddockID *string
	Longitude *float64
	Latitude  *float64
	DueOn     *Day
	EveryDays int
	ForID     *string
	MadeAt    time.Time
	MadeBy    string
	DoneAt    *time.Time
	DoneBy    *string
	Minutes   *int
	DoneNote  string
	AfterID   *string
	Withdrawn bool
}

// Overdue tells whether its day has passed.
func (j Job) Overdue(today Day) bool { return j.DueOn != nil && *j.DueOn < today && j.DoneAt == nil }

// Look is what somebody saw of a paddock and the stock on it.
type Look struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	PaddockID  string
	MobID      *string
	SeenAt     time.Time
	Stage      string
	Answers    JSON[map[string]string]
	Ground     JSON[grazing.Ground]
	Animals    JSON[[]grazing.SeenClass]
	Note       string
	ReturnOn   *Day
	RecordedAt time.Time
	RecordedBy string
	ReplacesID *string
	Withdrawn  bool
}

// Tally is grazed and ungrazed plants of a key species, measured on one day.
type Tally struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	PaddockID  string
	MobID      *string
	CountedAt  time.Time
	Tally      JSON[grazing.Tally]
	RecordedAt time.Time
	RecordedBy string
	Withdrawn  bool
}

// Training marks a class of stock that does not know electric fence yet, until somebody has seen it keep off.
type Training struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	ClassID    string
	Why        string
	SinceOn    Day
	Weeks      int
	TrainedOn  *Day
	RecordedAt time.Time
	RecordedBy string
	Withdrawn  bool
}

// Treatment is a product given to a mob or put on a paddock, and until when it withholds them.
type Treatment struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	MobID      *string
	PaddockID  *string
	Product    string
	GivenOn    Day
	UntilDay   *Day
	Tags       string
	Note       string
	RecordedAt time.Time
	RecordedBy string
	Withdrawn  bool
}

// Withholds tells whether a sale, milk or grazing is withheld on a day.
func (t Treatment) Withholds(on Day) bool {
	return t.GivenOn <= on && t.UntilDay != nil && on < *t.UntilDay
}

// Closure is a paddock out of the round from a day until before another; or, where it opens, in the round although a limit shuts it.
type Closure struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	PaddockID  string
	Opens      bool
	FromOn     Day
	UntilOn    *Day
	Why        string
	RecordedAt time.Time
	RecordedBy string
}

// Cut is what a cut brought home. It stands as long as the measurement does that says what it left.
type Cut struct {
	FarmID        string `gorm:"primaryKey"`
	ID            string `gorm:"primaryKey"`
	MeasurementID string
	PaddockID     string
	CutOn         Day
	AreaHa        float64
	Bales         *float64
	BaleKg        *float64
	DryShare      *float64
	KgDM          *float64 // nil: nobody weighed it
	Note          string
	RecordedAt    time.Time
	RecordedBy    string
}

// Fodder is what comes into the fodder store beside cuts, what goes out of it, or what somebody counted in it.
type Fodder struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	Kind       string
	OnDay      Day
	What       string
	Bales      *float64
	BaleKg     *float64
	DryShare   *float64
	KgDM       float64
	Note       string
	RecordedAt time.Time
	RecordedBy string
	Withdrawn  bool
}

// TableName of the one word that has no plural.
func (Fodder) TableName() string { return "fodder" }

// Dressing is nitrogen that was spread on a paddock.
type Dressing struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	PaddockID  string
	GivenOn    Day
	KgNHa      float64
	Note       string
	RecordedAt time.Time
	RecordedBy string
}

// Decision is what was decided of a queue's week, what was expected of it, and the rows that it wrote.
type Decision struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	MadeAt      time.Time
	MadeBy      string
	Mobs        JSON[[]string]
	Reason      string
	Levers      JSON[[]queue.Lever]
	Expected    JSON[queue.Expected]
	Changes     JSON[[]RowChange]
	TakenBackAt *time.Time
	TakenBackBy *string
}

// Price is what a farm pays, or forgoes, from a day on.
type Price struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	Item       string
	FromOn     Day
	Amount     float64
	BalePrice  *float64
	Haulage    *float64
	BaleKg     *float64
	Note       string
	RecordedAt time.Time
	RecordedBy string
	Withdrawn  bool
}

// Scenario is options on a year that were thought through together.
type Scenario struct {
	FarmID     string `gorm:"primaryKey"`
	ID         string `gorm:"primaryKey"`
	Name       string
	Reason     string
	FromOn     Day // the first of the month that its options' months count from
	Options    JSON[[]year.Option]
	Mobs       JSON[[]string] // of each option about head: whose; else empty
	MadeAt     time.Time
	RecordedAt time.Time
	RecordedBy string
	Withdrawn  bool
}

// Plan is a plan of moves; its rows are computed, never stored.
type Plan struct {
	FarmID    string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	StartsOn  Day
	Days      int
	Careful   bool  // weighed by a poor season
	Seq       int64 // the latest that was not taken back is the present plan
	Version   int
	CreatedAt time.Time
	EndedAt   *time.Time // taken back after it was begun
}

// PlanMob is a mob of a plan with the plan's copy of its school.
type PlanMob struct {
	FarmID  string `gorm:"primaryKey"`
	PlanID  string `gorm:"primaryKey"`
	MobID   string `gorm:"primaryKey"`
	School  JSON[grazing.School]
	Follows *string // the mob whose paddocks it gets when that goes on
}

// Link is good once: to join a farm, or, where it is a user's, to choose a new password.
type Link struct {
	Digest string `gorm:"primaryKey"` // of its token
	FarmID *string
	UserID *string
	Role   string
	MadeBy string
	MadeAt time.Time
	EndsAt time.Time
	UsedBy *string
}

// Reminder is of what a person wants to be reminded by mail on a farm, and when.
type Reminder struct {
	FarmID   string `gorm:"primaryKey"`
	UserID   string `gorm:"primaryKey"`
	Kinds    JSON[[]string]
	AtMinute int
	SentOn   *Day
}

// Handover is a card for whoever takes over for some days, opened by a link whose mark is kept.
type Handover struct {
	FarmID  string `gorm:"primaryKey"`
	ID      string `gorm:"primaryKey"`
	Digest  string
	Whom    string
	FromDay Day
	LastDay Day
	Normal  string
	MadeBy  string
	MadeAt  time.Time
	EndedAt *time.Time
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
	EndedAt   *time.Time // let go, or another took its place; it can be put back
}

// Search is what a search for better moves than a plan's came to. The latest that was not taken back is followed.
type Search struct {
	FarmID      string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	PlanID      string
	PlanVersion int                  // of the rules it was made by
	Parts       JSON[map[Part]int64] // the versions of the facts it was made from
	Seq         int64
	FoundAt     time.Time
	Rounds      int
	Whole       bool // every round ended by itself
	TookMs      int
	SparedKg    float64  // over the plan that there was
	MostKg      *float64 // no plan spares more over what it found
	Moves       JSON[[]FoundMove]
	EndedAt     *time.Time
}

// FoundMove is a stay that a search found best.
type FoundMove struct {
	MobID     string    `json:"mob"`
	PaddockID string    `json:"paddock"`
	Enter     time.Time `json:"enter"`
	Leave     time.Time `json:"leave"`
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
