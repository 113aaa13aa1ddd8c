package grazing

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEveryAnswerIsTakenWhereItIsAskedFor(t *testing.T) {
	ids := map[string]bool{}
	for _, ask := range Asks() {
		assert.False(t, ids[ask.ID], "%s is asked once", ask.ID)
		ids[ask.ID] = true
		require.NotEmpty(t, ask.Stages)
		answers := map[string]bool{}
		for _, a := range ask.Answers {
			assert.False(t, answers[a.ID])
			answers[a.ID] = true
			assert.NotEmpty(t, a.Label)
			assert.False(t, a.Minds && a.Says == "", "%s %s: what needs minding says what to do", ask.ID, a.ID)
			for _, stage := range []string{BeforeGrazing, WhileGrazing, AfterGrazing} {
				err := CheckAnswers(stage, map[string]string{ask.ID: a.ID})
				asked := false
				for _, s := range ask.Stages {
					asked = asked || s == stage
				}
				assert.Equal(t, asked, err == nil, "%s %s %s", stage, ask.ID, a.ID)
			}
		}
	}
	assert.ErrorContains(t, CheckAnswers(WhileGrazing, map[string]string{"dung": "green"}), "answers.dung")
	assert.ErrorContains(t, CheckAnswers("later", nil), "stage")
	assert.NoError(t, CheckAnswers(AfterGrazing, nil), "nothing has to be said")
}

// Stock that bawl may be hungry, trained or greeting: mood and what prompted it are two answers.
func TestMoodAndWhatPromptedItAreTwoThings(t *testing.T) {
	assert.NoError(t, CheckAnswers(WhileGrazing, map[string]string{"mood": "bawling", "prompted": "me"}))
	minded := MindedAnswers(map[string]string{"mood": "bawling", "prompted": "me", "bellies": "full", "water": "none"})
	require.Len(t, minded, 2)
	assert.Contains(t, minded[0].Text, "what prompted it tells")
	assert.Contains(t, minded[1].Text, "water before anything else")
	assert.Empty(t, MindedAnswers(map[string]string{"water": "good"}))
}

func TestGroundIsAllOfItAtMost(t *testing.T) {
	share := func(v float64) *float64 { return &v }
	assert.NoError(t, Ground{}.Check())
	assert.NoError(t, Ground{Green: share(0.7), Litter: share(0.25), Bare: share(0.1)}.Check(), "judged by eye: a little more than all")
	assert.ErrorContains(t, Ground{Green: share(0.7), Litter: share(0.25), Bare: share(0.11)}.Check(), "bare_share")
	assert.NoError(t, Ground{Green: share(0.9), Legume: share(0.9)}.Check(), "legume is a share of the sward")
}

func ExampleMindedAnswers() {
	for _, r := range MindedAnswers(map[string]string{"bellies": "hollow", "dung": "flat", "power": "weak"}) {
		fmt.Println(r.Plain())
	}
	// Output:
	// Bellies: hollow. feed first, and a shorter first break on rich ground
	// Fence: weak. measure at the far end
}
