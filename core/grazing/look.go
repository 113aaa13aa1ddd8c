package grazing

import (
	"slices"

	"fjell/core/quantity"
)

// Stages of a stay at which somebody looks.
const (
	BeforeGrazing = "before"
	WhileGrazing  = "during"
	AfterGrazing  = "after"
)

// Ask is something that a look may say, by a tap: what is seen is described, never diagnosed.
type Ask struct {
	ID      string   `json:"id"`
	Label   string   `json:"label"`
	Stages  []string `json:"stages" nullable:"false"` // at which it is asked
	Answers []Answer `json:"answers" nullable:"false"`
}

// Answer is one of the answers that an Ask takes.
type Answer struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	// Says what follows from it, where something usually does. It reminds; who has to do with it decides.
	Says string `json:"says,omitempty"`
	// Minds marks what needs a look again.
	Minds bool `json:"minds,omitempty"`
}

// Asks are all that a look may say, in the order in which one sees it.
func Asks() []Ask {
	before, during, after := BeforeGrazing, WhileGrazing, AfterGrazing
	return []Ask{
		{"sward_left", "Sward left", []string{during, after}, []Answer{{"plenty", "plenty", "", false}, {"right", "about right", "", false},
			{"short", "short", "leave sooner next time, and rest it longer", true}, {"bare", "bare patches", "rest it longer: what is bitten bare comes back late", true}}},
		{"evenness", "Bite", []string{during, after}, []Answer{{"even", "even", "", false}, {"patchy", "patchy", "a smaller piece for a shorter time is bitten more evenly", false},
			{"rank", "rank and bare", "rank tufts are kept by being passed over: top them, or let others clean up behind", false}}},
		{"bellies", "Bellies", []string{during, after}, []Answer{{"hollow", "hollow", "feed first, and a shorter first break on rich ground", true}, {"flat", "flat", "look again in the evening", false},
			{"filling", "filling", "", false}, {"full", "full", "", false}}},
		{"mood", "Mood", []string{during, after}, []Answer{{"quiet", "lying, chewing", "", false}, {"grazing", "grazing", "", false}, {"walking", "walking the fence", "hungry, thirsty, or trained to be moved: what prompted it tells", true},
			{"bawling", "bawling", "hungry, trained, or greeting you: what prompted it tells", true}}},
		{"prompted", "What prompted it", []string{during, after}, []Answer{{"nothing", "nothing I saw", "", false}, {"me", "they saw me come", "wait out of sight and look again", false},
			{"dog", "a dog, people, wild animals", "", false}, {"heat", "heat or flies", "", false}, {"weather", "wind or rain", "", false}}},
		{"dung", "Dung", []string{during, after}, []Answer{{"stacked", "hard, stacked", "", false}, {"folded", "folded pats or pellets", "", false}, {"flat", "flat pats", "", false},
			{"runny", "runny", "", false}, {"other", "blood, slime or worms", "ask your vet, and keep some", true}}},
		{"water", "Water", []string{during, after}, []Answer{{"good", "full and clean", "", false}, {"low", "low", "fill it, and see that it runs", true}, {"dirty", "dirty", "empty and brush it", true},
			{"none", "none", "water before anything else; a thirsty mob is let to it a few at a time", true}}},
		{"power", "Fence", []string{during, after}, []Answer{{"on", "ticks, stands", "", false}, {"weak", "weak", "measure at the far end", true}, {"down", "down", "shut it off before you mend it", true}}},
		{"breakout", "Got out", []string{during, after}, []Answer{{"none", "none", "", false}, {"few", "one or two", "find where, before they are put back", true}, {"many", "many", "find where, before they are put back", true}}},
		{"lame", "Lame, thin or apart", []string{during, after}, []Answer{{"none", "none", "", false}, {"one", "one", "write its tag down", true}, {"several", "several", "ask your vet", true}}},
		{"worms", "Signs of worms", []string{during, after}, []Answer{{"none", "none", "", false}, {"dag", "dags, scours", "an egg count tells more than looks", true}, {"pale", "pale eyelids", "ask your vet", true},
			{"jaw", "swelling under the jaw", "ask your vet today", true}}},
		{"weather", "Weather", []string{before, during, after}, []Answer{{"dry", "dry", "", false}, {"dew", "dew", "", false}, {"rain", "rain", "", false}, {"hot", "hot", "", false}, {"cold", "cold wind", "", false}, {"frost", "frost", "", false}}},
		{"maturity", "Grass", []string{before}, []Answer{{"leafy", "leafy", "", false}, {"stem", "stems coming", "", false}, {"head", "in head", "past its best for stock that are to grow", false}, {"shed", "seed shed", "", false}}},
		{"storeys", "Storeys of plants", []string{before}, []Answer{{"one", "one", "", false}, {"two", "two", "", false}, {"three", "three or more", "", false}}},
		{"insects", "Insects", []string{before}, []Answer{{"few", "few", "", false}, {"some", "some", "", false}, {"many", "many, and birds after them", "", false}}},
		{"footing", "Footing", []string{before, during, after}, []Answer{{"firm", "firm", "", false}, {"soft", "soft", "", false}, {"wet", "a heel sinks in", "too wet: take the driest paddock, or a few hours only", true}}},
		{"mud", "Hoof damage", []string{after}, []Answer{{"none", "none", "", false}, {"some", "some", "", false}, {"much", "pugged, muddy", "rest it longer, and say when to look again", true}}},
	}
}

// CheckAnswers refuses answers that a stage does not ask for.
func CheckAnswers(stage string, answers map[string]string) error {
	if stage != BeforeGrazing && stage != WhileGrazing && stage != AfterGrazing {
		return quantity.Refuse("stage", stage, "must be before, during or after")
	}
	asks := Asks()
	for id, answer := range answers {
		i := slices.IndexFunc(asks, func(a Ask) bool { return a.ID == id && slices.Contains(a.Stages, stage) })
		if i < 0 || !slices.ContainsFunc(asks[i].Answers, func(a Answer) bool { return a.ID == answer }) {
			return quantity.Refuse("answers."+id, answer, "is no answer that is asked for then")
		}
	}
	return nil
}

// MindedAnswers is what of a look needs minding, in the order in which it is asked.
func MindedAnswers(answers map[string]string) []Reason {
	var out []Reason
	for _, ask := range Asks() {
		for _, a := range ask.Answers {
			if answers[ask.ID] == a.ID && a.Minds {
				text := ask.Label + ": " + a.Label
				if a.Says != "" {
					text += ". " + a.Says
				}
				out = append(out, Because(text))
			}
		}
	}
	return out
}
