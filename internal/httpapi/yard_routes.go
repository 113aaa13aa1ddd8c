package httpapi

import (
	"context"
	"net/http"

	"fjell/internal/farm/yard"
)

// Trained says whether a class knows electric fence.
type Trained struct {
	Knows bool `json:"knows"`
}

type trained struct {
	ItemPath
	Body Trained
}

// yardRoutes are what is seen, given and done out there.
func (s *Server) yardRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/jobs", "jobs", "What is to be done, and what was done lately", func(ctx context.Context, _ *FarmPath) (*body[yard.JobsView], error) {
		return answer(h.Yard.Jobs(ctx, actor(ctx)))
	}, live)
	route(s, hand, http.MethodPost, "/api/farms/{farm}/jobs", "add-job", "Keep something to be done", func(ctx context.Context, in *in[yard.NewJob]) (*empty, error) {
		return &empty{}, h.Yard.AddJob(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/jobs/done", "do-job", "Say that a job is done", func(ctx context.Context, in *in[yard.JobDone]) (*empty, error) {
		return &empty{}, h.Yard.DoJob(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/jobs/{id}", "take-job-back", "Take a job back, or say that it is not done after all", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Yard.TakeJobBack(ctx, actor(ctx), in.ID)
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/looks", "looks", "What a look may say, the last looks, and the photo points", func(ctx context.Context, _ *FarmPath) (*body[yard.LooksView], error) {
		return answer(h.Yard.Looks(ctx, actor(ctx)))
	}, live)
	route(s, hand, http.MethodPost, "/api/farms/{farm}/looks", "keep-look", "Keep what was seen of a paddock and the stock on it", func(ctx context.Context, in *in[yard.NewLook]) (*empty, error) {
		return &empty{}, h.Yard.RecordLook(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/looks/{id}", "take-look-back", "Take a look back", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Yard.TakeLookBack(ctx, actor(ctx), in.ID)
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/tallies", "tallies", "Tallies of key plants, and what they say", func(ctx context.Context, _ *FarmPath) (*body[[]yard.TallyView], error) {
		return answer(h.Yard.Tallies(ctx, actor(ctx)))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/tallies", "keep-tally", "Keep a tally of key plants", func(ctx context.Context, in *in[yard.NewTally]) (*empty, error) {
		return &empty{}, h.Yard.RecordTally(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/tallies/{id}", "take-tally-back", "Take a tally back", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Yard.TakeTallyBack(ctx, actor(ctx), in.ID)
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/trainings", "trainings", "Classes of stock that do not know electric fence yet", func(ctx context.Context, _ *FarmPath) (*body[[]yard.TrainingView], error) {
		return answer(h.Yard.Trainings(ctx, actor(ctx)))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/trainings", "mark-untrained", "Mark a class of stock that does not know electric fence yet", func(ctx context.Context, in *in[yard.NewTraining]) (*empty, error) {
		return &empty{}, h.Yard.MarkUntrained(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodPut, "/api/farms/{farm}/trainings/{id}", "trained", "Say whether a class has been seen to keep off electric fence", func(ctx context.Context, in *trained) (*empty, error) {
		return &empty{}, h.Yard.Trained(ctx, actor(ctx), in.ID, in.Body.Knows)
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/trainings/{id}", "take-training-back", "Take a mark back that was set by mistake", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Yard.TakeTrainingBack(ctx, actor(ctx), in.ID)
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/treatments", "treatments", "What was given to stock or put on ground, and until when it withholds", func(ctx context.Context, _ *FarmPath) (*body[[]yard.TreatmentView], error) {
		return answer(h.Yard.Treatments(ctx, actor(ctx)))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/treatments", "keep-treatment", "Keep a treatment", func(ctx context.Context, in *in[yard.NewTreatment]) (*empty, error) {
		return &empty{}, h.Yard.RecordTreatment(ctx, actor(ctx), in.Body)
	})
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/treatments/{id}", "take-treatment-back", "Take a treatment back that was written down by mistake", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Yard.TakeTreatmentBack(ctx, actor(ctx), in.ID)
	})
}
