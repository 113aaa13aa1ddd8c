package httpapi

import (
	"context"
	"net/http"
	"time"

	"fjell/core/grazing"
	"fjell/core/reference"
	"fjell/internal/farm"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/people"
	"fjell/internal/farm/today"
	"fjell/internal/farm/yard"
)

// Reference is what forms choose from.
type Reference struct {
	Swards  []reference.Sward       `json:"swards"`
	Classes []reference.StockClass  `json:"classes"`
	Curves  []reference.GrowthCurve `json:"curves"`
}

// MemberInput gives a person a role; an empty role takes it away.
type MemberInput struct {
	Email string `json:"email"`
	Role  string `json:"role" enum:"owner,manager,hand,viewer,"`
}

type farmChange struct {
	FarmPath
	IfMatch
	Body farm.FarmInput
}

type emergencyChange struct {
	FarmPath
	IfMatch
	Body farm.Emergency
}

type routineChange struct {
	FarmPath
	IfMatch
	Body grazing.RoutineEdits
}

type targetsChange struct {
	FarmPath
	IfMatch
	Body farm.Targets
}

type movingChange struct {
	FarmPath
	IfMatch
	Body farm.Moving
}

// PlannedVisit names a stay of the plan.
type PlannedVisit struct {
	FarmPath
	Mob   string    `query:"mob_id" required:"true"`
	Enter time.Time `query:"enter_at" required:"true" doc:"when the move is planned"`
}

type triedMove struct {
	PlannedVisit
	Paddock string    `query:"paddock_id" required:"true"`
	Leave   time.Time `query:"leave_at" doc:"when they would leave; by the rules where it is left out"`
	Instead string    `query:"instead_of" doc:"the pin that it would take the place of"`
}

type strips struct {
	PlannedVisit
	Along  bool    `query:"along" doc:"fences run along the longest side, not across it"`
	Behind bool    `query:"behind" doc:"begin at the other end"`
	Left   float64 `query:"left_kg_dm_ha" minimum:"0" maximum:"30000" doc:"what was left on the last strip; none: nobody looked"`
}

type restored struct {
	ItemPath
	Instead string `query:"instead_of" doc:"the fixed move that had taken its place"`
}

func (s *Server) farmRoutes() {
	h := s.House
	route(s, anyone, http.MethodGet, "/api/reference", "reference", "Sward types and stock classes", func(context.Context, *empty) (*body[Reference], error) {
		lib := reference.Load()
		return &body[Reference]{Reference{lib.Swards, lib.Classes, lib.Curves}}, nil
	})
	route(s, signedIn, http.MethodPost, "/api/farms", "create-farm", "Make a farm", func(ctx context.Context, in *body[farm.NewFarm]) (*body[farm.FarmView], error) {
		return answer(h.Farm.CreateFarm(ctx, user(ctx), in.Body))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}", "farm", "A farm", func(ctx context.Context, _ *FarmPath) (*body[farm.FarmView], error) {
		return answer(h.Farm.Farm(ctx, actor(ctx)))
	}, live)
	route(s, owner, http.MethodPut, "/api/farms/{farm}", "update-farm", "Change a farm", func(ctx context.Context, in *farmChange) (*body[farm.FarmView], error) {
		return answer(h.Farm.UpdateFarm(ctx, actor(ctx), in.Version, in.Body))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/emergency", "set-emergency", "Say whom to call and what to shut first, should something go wrong", func(ctx context.Context, in *emergencyChange) (*body[farm.FarmView], error) {
		return answer(h.Farm.SetEmergency(ctx, actor(ctx), in.Version, in.Body))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/routine", "set-routine", "Say what the farm makes of the usual steps of a move day", func(ctx context.Context, in *routineChange) (*body[farm.FarmView], error) {
		return answer(h.Farm.SetRoutine(ctx, actor(ctx), in.Version, in.Body))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/targets", "set-targets", "Say what the farm wants of its ground and its fences", func(ctx context.Context, in *targetsChange) (*body[farm.FarmView], error) {
		return answer(h.Farm.SetTargets(ctx, actor(ctx), in.Version, in.Body))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/moving", "set-moving", "Say when stock are moved, and when nobody is there", func(ctx context.Context, in *movingChange) (*body[farm.FarmView], error) {
		return answer(h.Farm.SetMoving(ctx, actor(ctx), in.Version, in.Body))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/members", "members", "A farm's people", func(ctx context.Context, _ *FarmPath) (*body[[]farm.MemberView], error) {
		return answer(h.Farm.Members(ctx, actor(ctx)))
	}, live)
	route(s, owner, http.MethodPost, "/api/farms/{farm}/links/join", "join-link", "Make a link by which one person joins the farm", func(ctx context.Context, in *in[LinkInput]) (*body[farm.LinkView], error) {
		return answer(h.Farm.JoinLink(ctx, actor(ctx), in.Body.Role))
	})
	route(s, owner, http.MethodPost, "/api/farms/{farm}/links/password", "password-link", "Make a link by which a member chooses a new password", func(ctx context.Context, in *in[ForgottenInput]) (*body[farm.LinkView], error) {
		return answer(h.Farm.PasswordLink(ctx, actor(ctx), in.Body.Email))
	})
	route(s, owner, http.MethodPost, "/api/farms/{farm}/members", "set-member", "Change a member's role, or ask somebody to join", func(ctx context.Context, in *in[MemberInput]) (*body[[]farm.MemberView], error) {
		return answer(h.People.SetMember(ctx, actor(ctx), in.Body.Email, farm.Role(in.Body.Role)))
	})
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/leave", "leave-farm", "Leave a farm", func(ctx context.Context, _ *FarmPath) (*empty, error) {
		return &empty{}, h.People.Leave(ctx, actor(ctx))
	})
	route(s, owner, http.MethodGet, "/api/farms/{farm}/audit", "audit", "Who came and went, and what was taken away for good", func(ctx context.Context, in *auditQuery) (*body[[]people.AuditView], error) {
		return answer(h.People.Audit(ctx, actor(ctx), in.Before))
	}, live)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/opening", "opening", "What the first page of a farm shows, in one answer", func(ctx context.Context, _ *FarmPath) (*body[Opening], error) {
		return answer(s.opening(ctx))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/today", "today", "What to do now", func(ctx context.Context, _ *FarmPath) (*body[today.TodayView], error) {
		return answer(h.Today.Today(ctx, actor(ctx)))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/reminders", "reminders", "Of what one is reminded by mail", func(ctx context.Context, _ *FarmPath) (*body[today.Reminders], error) {
		return answer(h.Today.RemindersOf(ctx, actor(ctx)))
	}, live)
	route(s, viewer, http.MethodPut, "/api/farms/{farm}/reminders", "set-reminders", "Say of what one wants to be reminded by mail, and when", func(ctx context.Context, in *in[today.Reminders]) (*body[today.Reminders], error) {
		return answer(h.Today.SetReminders(ctx, actor(ctx), in.Body))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/plan/calendar", "plan-calendar", "The planned moves as a file for calendars", func(ctx context.Context, _ *FarmPath) (*file, error) {
		raw, err := h.Moves.Calendar(ctx, actor(ctx))
		return &file{"text/calendar; charset=utf-8", `attachment; filename="moves.ics"`, raw}, err
	})
	route(s, manager, http.MethodGet, "/api/farms/{farm}/handovers", "handovers", "The cards for whoever takes over that open, or will", func(ctx context.Context, _ *FarmPath) (*body[[]today.HandoverRow], error) {
		return answer(h.Today.Handovers(ctx, actor(ctx)))
	}, live)
	route(s, manager, http.MethodPost, "/api/farms/{farm}/handovers", "hand-over", "Make a card for whoever takes over, with a link that ends on a day", func(ctx context.Context, in *in[today.NewHandover]) (*body[today.HandoverMade], error) {
		return answer(h.Today.HandOver(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/handovers/{id}", "end-handover", "End a card: its link opens nothing any more", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Today.EndHandover(ctx, actor(ctx), in.ID)
	})
	route(s, anyone, http.MethodGet, "/api/handovers/{token}", "handover", "What somebody needs who takes over", func(ctx context.Context, in *TokenPath) (*body[today.HandoverCard], error) {
		return answer(h.Today.Handover(ctx, in.Token))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/cautions", "cautions", "Every caution, what they go by, and what of it somebody has said", func(ctx context.Context, _ *FarmPath) (*body[today.CautionsView], error) {
		return answer(h.Today.Cautions(ctx, actor(ctx)))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/conditions", "say-condition", "Say that something is so that cautions go by", func(ctx context.Context, in *in[today.NewCondition]) (*empty, error) {
		return &empty{}, h.Today.SayCondition(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/conditions/{id}", "end-condition", "Say that something is no longer so", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Today.EndCondition(ctx, actor(ctx), in.ID)
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/ridge", "ridge", "Farm cover, past and forecast", func(ctx context.Context, _ *FarmPath) (*body[today.RidgeView], error) {
		return answer(h.Today.Ridge(ctx, actor(ctx)))
	})
}

type movesQuery struct {
	FarmPath
	Before time.Time `query:"before" doc:"moves before this moment: of the last move of the page before"`
}

type auditQuery struct {
	FarmPath
	Before int64 `query:"before" minimum:"0" doc:"the last line of the page before; nothing for the newest"`
}

// Named is a name.
type Named struct {
	Name string `json:"name"`
}

// AcceptInput is the id of an accepted version.
type AcceptInput struct {
	ID string `json:"id"`
}

func (s *Server) moveRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/moves", "moves", "What happened, the latest first", func(ctx context.Context, in *movesQuery) (*body[[]moves.MoveView], error) {
		var before *time.Time
		if !in.Before.IsZero() {
			before = &in.Before
		}
		return answer(h.Moves.MovesBefore(ctx, actor(ctx), before))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/moves", "record-move", "Record a move", func(ctx context.Context, in *in[moves.NewMove]) (*body[[]moves.MoveView], error) {
		return answer(h.Moves.RecordMove(ctx, actor(ctx), in.Body))
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/moves/{id}", "withdraw-move", "Take the latest move of a mob back", func(ctx context.Context, in *ItemPath) (*body[[]moves.MoveView], error) {
		return answer(h.Moves.WithdrawMove(ctx, actor(ctx), in.ID))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/plan", "plan", "The plan of moves", func(ctx context.Context, _ *FarmPath) (*body[moves.PlanView], error) {
		return answer(h.Moves.Plan(ctx, actor(ctx)))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/plan/problem", "plan-problem", "The present plan as a planning problem in one file, for fjell plan", func(ctx context.Context, _ *FarmPath) (*file, error) {
		raw, err := h.Moves.Problem(ctx, actor(ctx))
		if err != nil {
			return nil, err
		}
		return &file{"application/json", `attachment; filename="problem.json"`, raw}, nil
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/plan/grade", "plan-grade", "How good the present plan is: what a search spares over it, and what no plan can", func(ctx context.Context, _ *FarmPath) (*body[moves.GradeView], error) {
		return answer(h.Moves.Grade(ctx, actor(ctx)))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/plan/why", "plan-why", "Why a planned move does not go elsewhere: what every other paddock would cost", func(ctx context.Context, in *PlannedVisit) (*body[moves.WhyNotView], error) {
		return answer(h.Moves.WhyNot(ctx, actor(ctx), in.Mob, in.Enter))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/plan/tried", "plan-tried", "What would come of a move being put elsewhere; nothing is written", func(ctx context.Context, in *triedMove) (*body[moves.TriedView], error) {
		ask := moves.NewPin{MobID: in.Mob, PaddockID: in.Paddock, Enter: in.Enter, Instead: in.Instead}
		if !in.Leave.IsZero() {
			ask.Leave = &in.Leave
		}
		return answer(h.Moves.Try(ctx, actor(ctx), ask))
	}, desk)
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/plan/strips", "plan-strips", "A stay in strips: how far the front fence moves at every move hour of it", func(ctx context.Context, in *strips) (*body[moves.StripsView], error) {
		ask := moves.StripsIn{MobID: in.Mob, Enter: in.Enter, Along: in.Along, Behind: in.Behind}
		if in.Left > 0 {
			ask.Left = &in.Left
		}
		return answer(h.Moves.Strips(ctx, actor(ctx), ask))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/plan", "create-plan", "Start a plan", func(ctx context.Context, in *in[moves.NewPlan]) (*body[moves.PlanView], error) {
		return answer(h.Moves.CreatePlan(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/plan/search", "search-plan", "Look for better moves: one round of a search, which the plan then follows", func(ctx context.Context, in *in[moves.SearchRound]) (*body[moves.PlanView], error) {
		return answer(h.Moves.Search(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/plan/search/{id}", "drop-search", "Take a search back; the one before is followed again", func(ctx context.Context, in *ItemPath) (*body[moves.PlanView], error) {
		return answer(h.Moves.DropSearch(ctx, actor(ctx), in.ID))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/plan/{id}", "update-plan", "Change a plan's days and schools", func(ctx context.Context, in *change[moves.PlanInput]) (*body[moves.PlanView], error) {
		return answer(h.Moves.UpdatePlan(ctx, actor(ctx), in.ID, in.Version, in.Body))
	})
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/plan/{id}", "withdraw-plan", "Take a plan back that was begun; the one before holds again", func(ctx context.Context, in *ItemPath) (*body[moves.PlanView], error) {
		return answer(h.Moves.WithdrawPlan(ctx, actor(ctx), in.ID))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/plan/{id}/accept", "accept-plan", "Keep the plan as it stands", func(ctx context.Context, in *inItem[AcceptInput]) (*body[moves.PlanView], error) {
		return answer(h.Moves.AcceptPlan(ctx, actor(ctx), in.ID, in.Body.ID))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/pins", "pin-move", "Fix a move of the plan", func(ctx context.Context, in *in[moves.NewPin]) (*body[moves.PlanView], error) {
		return answer(h.Moves.PinMove(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/pins/{id}/restore", "restore-pin", "Fix a move again that was let go or put elsewhere", func(ctx context.Context, in *restored) (*body[moves.PlanView], error) {
		return answer(h.Moves.RestorePin(ctx, actor(ctx), in.ID, in.Instead))
	}, keyed)
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/pins/{id}", "unpin-move", "Let a pinned move go", func(ctx context.Context, in *ItemPath) (*body[moves.PlanView], error) {
		return answer(h.Moves.Unpin(ctx, actor(ctx), in.ID))
	})
}

// Opening is what the first page of a farm asks for: from far out, one way there and back is quicker than seven.
type Opening struct {
	Today today.TodayView  `json:"today"`
	Ridge today.RidgeView  `json:"ridge"`
	Land  ground.LandView  `json:"land"`
	Mobs  []herd.MobView   `json:"mobs" nullable:"false"`
	Moves []moves.MoveView `json:"moves" nullable:"false"`
	Jobs  yard.JobsView    `json:"jobs"`
	Looks yard.LooksView   `json:"looks"`
}

func (s *Server) opening(ctx context.Context) (out Opening, err error) {
	h, a := s.House, actor(ctx)
	if out.Today, err = h.Today.Today(ctx, a); err != nil {
		return out, err
	}
	if out.Ridge, err = h.Today.Ridge(ctx, a); err != nil {
		return out, err
	}
	if out.Land, err = h.Ground.Land(ctx, a); err != nil {
		return out, err
	}
	if out.Mobs, err = h.Herd.Mobs(ctx, a); err != nil {
		return out, err
	}
	if out.Moves, err = h.Moves.MovesBefore(ctx, a, nil); err != nil {
		return out, err
	}
	if out.Jobs, err = h.Yard.Jobs(ctx, a); err != nil {
		return out, err
	}
	out.Looks, err = h.Yard.Looks(ctx, a)
	return out, err
}
