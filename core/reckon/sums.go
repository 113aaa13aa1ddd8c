package reckon

import (
	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/stock"
)

func p(v float64) *float64 { return &v }

// sums is the list. The examples are made up; a form starts with them filled in, so that a beginner sees a true
// answer before typing anything.
var sums = []Sum{
	define("how-long", "How long will it last?", "So many animals, so much grass: until when?", grazing.Lasts,
		grazing.LastsIn{Count: 6, Weight: 65, Share: 0.03, AreaHa: 0.8, Height: 12, Stop: 5, MassPer: 150, Utilised: 0.65, Growth: new(20.0)}),
	define("demand", "What they eat a day", "What does this mob eat in a day?", stock.Demand, stock.DemandIn{Classes: []stock.DemandClass{
		{Count: 48, LiveWeightKg: 620, IntakeShare: 0.023}, {Count: 44, LiveWeightKg: 110, IntakeShare: 0.014}}}),
	define("forage-mass", "Grass standing", "What stands on this ground?", forage.Mass,
		forage.MassIn{Method: forage.Plate, Slope: p(255), Intercept: p(550), Height: p(8.2)}),
	define("feed", "Feed in a paddock", "How much of what stands may they eat?", grazing.Feed,
		grazing.FeedIn{Method: grazing.ToResidual, Mass: p(2650), Residual: p(1500), U: p(1), AreaHa: 1.8}),
	define("stay", "Days of feed", "How long does that feed last?", grazing.Stay, grazing.StayIn{Feed: 2070, Demand: 752.24}),
	define("strip", "Strip grazing", "How far does the front fence move?", grazing.Strip,
		grazing.StripIn{Demand: 752.24, Days: 1, PerHa: 1150, Width: 60}),
	define("next-strip", "Tomorrow's strip", "How far does it move after what was left today?", grazing.NextStrip,
		grazing.NextStripIn{Length: 110, Mass: 2650, Left: 1650, Residual: 1500}),
	define("days-away", "Days away", "What must be set ahead when nobody can move them?", grazing.Away,
		grazing.AwayIn{Demand: 752.24, Days: 9, Spare: 1, PerHa: 1150, AreaHa: 6, Stay: 3}),
	define("worms", "Worms: stay and return", "How long may they stay, and when may they be back? Rough figures, and not veterinary advice: work with your vet.", grazing.Worms, grazing.WormsIn{Host: "sheep_goats", Temperature: 15}),
	define("pulse", "Pulse: density", "What does a wanted density take in ground, moves, feed and water? A tool for a named purpose, with an end: not at mating, not for growing stock.", grazing.Pulse,
		grazing.PulseIn{Count: 48, Weight: 620, Share: 0.023, Density: 60000, Moves: 4, Mass: 3400, Top: 0.33, Exponent: 1.6, Eaten: 0.8, Water: 45}),
	define("area-needed", "Area needed", "How much ground feeds them for so many days?", grazing.AreaNeeded,
		grazing.AreaIn{Demand: 752.24, Days: 2, PerHa: 1150}),
	define("head-carried", "How many can it feed", "How many head does this feed carry?", grazing.HeadCarried,
		grazing.HeadIn{Feed: 40000, Intake: 11.6, Days: 92}),
	define("rotation", "Paddocks for a rest", "How many paddocks do I need?", grazing.Rotation,
		grazing.RotationIn{Rest: 24, Stay: 2, Mobs: 1, Area: 32}),
	define("regrowth", "Regrowth", "How long until it is ready again, and what does a deeper bite cost?", forage.Regrowth,
		forage.RegrowthIn{Residual: 1500, Entry: 2500, Ceiling: 5000, Peak: 60, Other: p(900)}),
	define("stocking", "Stocking rate and density", "How heavily is the land stocked, over the season and right now?", stock.Stocking,
		stock.StockingIn{Animals: []stock.Animals{{Count: 48, LiveWeightKg: 620}, {Count: 44, LiveWeightKg: 110}}, SeasonAreaHa: 32, OpenAreaHa: 1.8}),
	define("break-even-growth", "Growth needed to keep up", "How fast must it grow to keep up with them?", grazing.BreakEven,
		grazing.BreakEvenIn{Demand: 752.24, Area: 32}),
	define("equivalence", "One animal for another", "How many of those graze as one of these?", stock.Equivalence,
		stock.EquivalenceIn{First: stock.Eater{Intake: 14.26, HarvestEfficiency: 0.65}, Second: stock.Eater{Intake: 2.58, HarvestEfficiency: 0.75}}),
	define("implied-intake", "Check intake", "Can it be that so many ate so much?", stock.Implied,
		stock.ImpliedIn{Count: 48, LiveWeightKg: 620, Feed: 1150, Area: 1.8, Days: 3}),
	define("sample", "Mean of readings", "How sure am I of these readings?", forage.Sample,
		forage.SampleIn{Readings: []float64{10.4, 11.2, 9.6, 12.1, 8.8, 10.9, 11.6, 9.9}}),
	define("canopy-cover", "Canopy cover", "How much of the ground is covered?", forage.Cover, forage.CoverIn{Marks: 33, Open: 6}),
	define("calibrate", "Calibrate a plate", "What does a centimetre of my plate weigh?", forage.Calibrate, forage.CalibrateIn{Pairs: []forage.Pair{
		{Height: 5.4, Mass: 1820}, {Height: 6.5, Mass: 2160}, {Height: 7.7, Mass: 2420}, {Height: 8.9, Mass: 2760},
		{Height: 10.2, Mass: 3010}, {Height: 11.6, Mass: 3480}, {Height: 13.1, Mass: 3760}, {Height: 15, Mass: 4290}}}),
	define("compare-meters", "Compare two meters", "Which way, and how far, do two meters differ?", forage.Compare, forage.CompareIn{Pairs: []forage.MeterPair{
		{First: 2240, Second: 1990}, {First: 2590, Second: 2350}, {First: 1600, Second: 1480}, {First: 2050, Second: 1870}}}),
	define("utilisation", "Grazed enough?", "Has enough been taken?", grazing.Utilisation, grazing.UtilisationIn{
		Ungrazed: []float64{17, 18.5, 19, 17.5}, Grazed: []float64{5, 5.5, 5.7, 5.4}, Exponent: 2, Limit: 0.5}),
	define("leaves", "Leaf stage", "On which day will there be so many leaves?", forage.Leaves, forage.LeavesIn{Leaves: 3, Phyllochron: 110, Base: 0,
		Temperature: []float64{11, 12, 12, 13, 14, 13, 12, 14, 15, 15, 14, 13, 14, 15, 16, 16, 15, 14, 15, 16, 16, 15, 15, 14, 15, 16}}),
	define("week", "The weekly look", "What grew, and how many days are ahead?", grazing.Week, grazing.WeekIn{Paddocks: []grazing.WeekPaddock{
		{Name: "North 1", Area: 2.1, Mass: 2650, Previous: p(2340)}, {Name: "North 2", Area: 1.8, Mass: 1620, Touched: true},
		{Name: "Bank", Area: 2.4, Mass: 2210, Previous: p(1850)}}, Days: 7, Residual: 1500, Demand: 300, U: 0.9}),
	define("queue", "Ahead or behind", "Am I ahead or behind, paddock by paddock?", grazing.Queue, grazing.QueueIn{Paddocks: []grazing.QueuePaddock{
		{Name: "North 1", Area: 2.1, Mass: 2650}, {Name: "Bank", Area: 2.4, Mass: 2210}, {Name: "North 2", Area: 1.8, Mass: 1620}},
		Demand: 300, Length: 24, Residual: 1500}),
}
