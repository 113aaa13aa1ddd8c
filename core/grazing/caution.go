package grazing

// Animal is a class of animals as far as it can hurt or be hurt on a move.
type Animal struct {
	Species string
	Male    bool
	Calves  bool // calves at foot: their mothers defend them
}

// BloatShare is the share of legume from which the bloat caution is shown before stock go in.
const BloatShare = 0.25

// Cautions are the usual cautions before a mob goes onto ground with a share of legume, the gravest first, by their ids in
// the reference: the ground, the animals, and always the fence and being alone. Horses alone do not bloat.
func Cautions(legume float64, mob []Animal) []string {
	ruminants, dangerous := len(mob) == 0, false
	for _, a := range mob {
		ruminants = ruminants || a.Species != "horses"
		dangerous = dangerous || a.Species == "cattle" && (a.Male || a.Calves)
	}
	var out []string
	if legume >= BloatShare && ruminants {
		out = append(out, "bloat")
	}
	if dangerous {
		out = append(out, "bulls_and_fresh_calved_cows")
	}
	return append(out, "electric_fence_shock", "lone_work")
}
