package grazing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/grazing"
	"fjell/core/reference"
)

func TestHowAFarmSpeaksGoesByItsPeopleAndItsAims(t *testing.T) {
	beginner := grazing.UsualVoices(grazing.Beginner, nil)
	assert.Equal(t, []string{"feed", "fence", "caution"}, beginner.First)
	assert.Empty(t, beginner.Quiet)
	assert.Equal(t, grazing.Voices{First: []string{}, Quiet: []string{}}, grazing.UsualVoices(grazing.Some, []string{grazing.AimSoil}))
	old := grazing.UsualVoices(grazing.OldHand, nil)
	assert.Equal(t, []string{"look", "move", "walk", "weather"}, old.Quiet, "what their eye tells them anyway")
	assert.Equal(t, []string{"move", "walk"}, grazing.UsualVoices(grazing.OldHand, []string{grazing.AimSoil}).Quiet, "soil rests on looks and on wet ground")
	assert.Equal(t, []string{"look", "move", "weather"}, grazing.UsualVoices(grazing.OldHand, []string{grazing.AimGain}).Quiet)
	for _, experience := range []string{grazing.Beginner, grazing.Some, grazing.OldHand} {
		for _, aim := range grazing.Aims {
			for _, hurts := range []string{grazing.MindFeed, grazing.MindFence, grazing.MindCaution, grazing.MindCount, grazing.MindGround} {
				assert.NotContains(t, grazing.UsualVoices(experience, []string{aim}).Quiet, hurts, "what can hurt is quiet for nobody")
			}
		}
	}
	for _, aim := range grazing.Aims {
		for _, kind := range grazing.Served([]string{aim}) {
			assert.Contains(t, grazing.MindingKinds, kind)
		}
		assert.NotEmpty(t, grazing.Served([]string{aim}), "every aim rests on something")
	}
}

func TestTheSchoolAPlanBeginsWithServesTheAims(t *testing.T) {
	sward := reference.Sward{Schools: []string{grazing.LeafResidual, grazing.StartStop, grazing.TallLong, grazing.CleanGround}}
	for aim, school := range map[string]string{grazing.AimGrowth: grazing.LeafResidual, grazing.AimSoil: grazing.TallLong, grazing.AimLessWork: grazing.StartStop, grazing.AimParasites: grazing.LeafResidual} {
		assert.Equal(t, school, grazing.UsualFor(sward, []string{aim}, false).Key, aim)
	}
	assert.Equal(t, grazing.LeafResidual, grazing.UsualFor(sward, nil, true).Key, "no aims: as the sward is usually grazed")
	assert.Equal(t, grazing.CleanGround, grazing.UsualFor(sward, []string{grazing.AimGrowth, grazing.AimParasites}, true).Key, "for those that worms are hard on")
	assert.Equal(t, grazing.TallLong, grazing.UsualFor(sward, []string{grazing.AimSoil, grazing.AimDrought, grazing.AimGrowth}, false).Key, "the one that serves most")
	only := reference.Sward{Schools: []string{grazing.LeaveHalf}}
	assert.Equal(t, grazing.LeaveHalf, grazing.UsualFor(only, []string{grazing.AimGrowth}, false).Key, "never a school by which the sward is not grazed")
}

func TestAClassLearnsTheFence(t *testing.T) {
	assert.NoError(t, grazing.CheckTraining("bought", grazing.TrainingWeeks))
	assert.Error(t, grazing.CheckTraining("bought", 0))
	assert.Error(t, grazing.CheckTraining("bought", 27))
	assert.Error(t, grazing.CheckTraining("lazy", 2))
	week := func(days int) float64 { return grazing.Training("Heifers", days, 2).Figures[0].Value }
	assert.Equal(t, []float64{1, 1, 2, 2}, []float64{week(0), week(6), week(7), week(13)})
	assert.Contains(t, grazing.Training("Heifers", 13, 2).Text, "no single wire yet")
	assert.Contains(t, grazing.Training("Heifers", 14, 2).Text, "have you seen them keep off it")
	assert.NotContains(t, grazing.Training("Heifers", 14, 2).Text, "more")
	assert.Contains(t, grazing.Training("Heifers", 21, 2).Text, "{o} more")
}

func TestGroundIsHeldAgainstTheFarmsOwnTarget(t *testing.T) {
	of := func(v float64) *float64 { return &v }
	target := grazing.GroundTarget{Cover: of(0.9), Bare: of(0.05), LegumeFrom: of(0.2), LegumeTo: of(0.4)}
	require.NoError(t, target.Check())
	says := func(g grazing.Ground) (out []string) {
		for _, r := range g.Against(target) {
			out = append(out, r.Text)
		}
		return out
	}
	assert.Empty(t, says(grazing.Ground{}), "nobody looked")
	assert.Empty(t, says(grazing.Ground{Green: of(0.7), Litter: of(0.2), Bare: of(0.05), Legume: of(0.2)}), "met, to the edge")
	assert.Len(t, says(grazing.Ground{Green: of(0.7), Litter: of(0.1), Bare: of(0.2), Legume: of(0.5)}), 3)
	assert.Contains(t, says(grazing.Ground{Legume: of(0.1)})[0], "at least")
	assert.Contains(t, says(grazing.Ground{Legume: of(0.5)})[0], "at most")
	assert.Empty(t, says(grazing.Ground{Green: of(0.5)}), "half of the cover was not looked at")
	assert.Empty(t, grazing.Ground{Bare: of(1)}.Against(grazing.GroundTarget{}), "a farm without a target is told nothing")
	assert.Error(t, grazing.GroundTarget{Bare: of(1.1)}.Check())
	assert.Error(t, grazing.GroundTarget{LegumeFrom: of(0.5), LegumeTo: of(0.4)}.Check())
}

func TestWhatIsSeenOfAClass(t *testing.T) {
	of := func(v float64) *float64 { return &v }
	for _, good := range []float64{1, 2.75, 5} {
		assert.NoError(t, grazing.SeenClass{Condition: of(good)}.CheckSeen(0))
	}
	for _, bad := range []float64{0.75, 5.25, 2.6} {
		assert.ErrorContains(t, grazing.SeenClass{Condition: of(bad)}.CheckSeen(1), "quarters")
	}
	assert.Error(t, grazing.SeenClass{Scored: -1}.CheckSeen(0))
	assert.True(t, grazing.SeenClass{Lame: "  "}.Empty())
	assert.False(t, grazing.SeenClass{Condition: of(3)}.Empty())
	minds := grazing.SeenClass{Lame: "112, 140", Thin: "7"}.Minds("Ewes")
	require.Len(t, minds, 2)
	assert.Contains(t, minds[0].Text, "Ewes lame: 112, 140")
	assert.Contains(t, minds[1].Text, "Ewes thin: 7")
	assert.Empty(t, grazing.SeenClass{Condition: of(1.5)}.Minds("Ewes"))
}

func TestTheFirstDrinkIsAskedAfterForADay(t *testing.T) {
	yes, no := true, false
	assert.Nil(t, grazing.Thirsty(nil, 1), "nobody was asked")
	assert.Nil(t, grazing.Thirsty(&yes, 1))
	assert.NotNil(t, grazing.Thirsty(&no, grazing.DrinkAfter))
	assert.Nil(t, grazing.Thirsty(&no, grazing.DrinkAfter+1), "by then they have drunk, or somebody knows worse")
}
