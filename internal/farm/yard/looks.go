package yard

import (
	"context"
	"slices"
	"time"

	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewLook is what somebody saw of a paddock and the stock on it.
type NewLook struct {
	ID        string              `json:"id"`
	PaddockID string              `json:"paddock_id"`
	MobID     *string             `json:"mob_id,omitempty"`
	SeenAt    time.Time           `json:"seen_at"`
	Stage     string              `json:"stage" enum:"before,during,after"`
	Answers   map[string]string   `json:"answers"`
	Ground    grazing.Ground      `json:"ground"`
	Animals   []grazing.SeenClass `json:"animals,omitempty"`
	Note      string              `json:"note,omitempty"`
	Return    *store.Day          `json:"return_on,omitempty" doc:"to look again"`
	Replaces  *string             `json:"replaces_id,omitempty" doc:"the look that this one corrects; both are kept"`
	Confirmed bool                `json:"confirmed,omitempty"`
}

// LookView is a look on record.
type LookView struct {
	ID          string            `json:"id"`
	PaddockID   string            `json:"paddock_id"`
	PaddockName string            `json:"paddock_name"`
	MobID       *string           `json:"mob_id" nullable:"true"`
	MobName     string            `json:"mob_name"`
	SeenAt      time.Time         `json:"seen_at"`
	Stage       string            `json:"stage"`
	Answers     map[string]string `json:"answers" nullable:"false"`
	Ground      grazing.Ground    `json:"ground"`
	Animals     []SeenOf          `json:"animals" nullable:"false"`
	Minds       []grazing.Reason  `json:"minds" nullable:"false"`
	Note        string            `json:"note"`
	Return      *store.Day        `json:"return_on" nullable:"true"`
	By          string            `json:"by"`
	Photos      []PhotoView       `json:"photos" nullable:"false"`
}

// SeenOf is what was seen of a class, under its name.
type SeenOf struct {
	grazing.SeenClass
	ClassName string `json:"class_name"`
}

// PhotoView is a photo of a look: of which stage, and from which point, where it has one.
type PhotoView struct {
	ID      string    `json:"id"`
	TakenAt time.Time `json:"taken_at"`
	Stage   string    `json:"stage"`
	Point   string    `json:"point"`
}

// PointView is a point that photos are taken from again and again, the oldest first.
type PointView struct {
	PaddockID   string      `json:"paddock_id"`
	PaddockName string      `json:"paddock_name"`
	Point       string      `json:"point"`
	Photos      []PhotoView `json:"photos" nullable:"false"`
}

// LooksView is what a look may say, and what the last ones said.
type LooksView struct {
	Asks   []grazing.Ask `json:"asks" nullable:"false"`
	Looks  []LookView    `json:"looks" nullable:"false"`
	Points []PointView   `json:"points" nullable:"false"`
}

// RecordLook keeps what somebody saw.
func (s *Service) RecordLook(ctx context.Context, a farm.Actor, in NewLook) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "look", Body: in}, func(tx *facts.Writing) error {
		if err := farm.Judge(in.Ground, in.Confirmed); err != nil {
			return err
		}
		if err := in.check(tx); err != nil {
			return err
		}
		if in.Replaces != nil {
			if _, err := farm.Find[store.Look](tx.DB, a.FarmID, "replaces_id", *in.Replaces); err != nil {
				return err
			}
		}
		return tx.Create(&store.Look{FarmID: a.FarmID, ID: in.ID, PaddockID: in.PaddockID, MobID: in.MobID, SeenAt: in.SeenAt.UTC(), Stage: in.Stage,
			Answers: store.JSON[map[string]string]{V: in.Answers}, Ground: store.JSON[grazing.Ground]{V: in.Ground}, Animals: store.JSON[[]grazing.SeenClass]{V: in.Animals}, Note: in.Note, ReturnOn: in.Return,
			RecordedAt: time.Now().UTC(), RecordedBy: a.UserID, ReplacesID: in.Replaces}).Error
	})
}

func (in *NewLook) check(tx *facts.Writing) error {
	if err := grazing.CheckAnswers(in.Stage, in.Answers); err != nil {
		return err
	}
	if err := in.Ground.Check(); err != nil {
		return err
	}
	in.Animals = slices.DeleteFunc(append([]grazing.SeenClass{}, in.Animals...), grazing.SeenClass.Empty)
	if len(in.Animals) > mostSeen {
		return quantity.Refuse("animals", len(in.Animals), "at most %d classes in one look", mostSeen)
	}
	for i, seen := range in.Animals {
		if err := seen.CheckSeen(i); err != nil {
			return err
		}
		if _, err := farm.Find[store.StockGroup](tx.DB, tx.Actor.FarmID, "animals.class_id", seen.ClassID); err != nil {
			return err
		}
	}
	if len([]rune(in.Note)) > mostNote {
		return quantity.Refuse("note", nil, "a note has at most %d letters", mostNote)
	}
	if in.Answers == nil {
		in.Answers = map[string]string{}
	}
	if in.SeenAt.After(tx.Now.Add(time.Minute)) || in.SeenAt.Before(tx.Now.AddDate(-1, 0, 0)) {
		return quantity.Refuse("seen_at", in.SeenAt.Format(time.RFC3339), "lies in the future or more than a year back")
	}
	if in.Return != nil {
		if _, err := in.Return.Time(time.UTC); err != nil || *in.Return < tx.DayOf(in.SeenAt) {
			return quantity.Refuse("return_on", string(*in.Return), "must be a day after the look")
		}
	}
	if _, err := farm.Find[store.Paddock](tx.DB, tx.Actor.FarmID, "paddock_id", in.PaddockID); err != nil {
		return err
	}
	if in.MobID != nil {
		if _, err := farm.Find[store.Mob](tx.DB, tx.Actor.FarmID, "mob_id", *in.MobID); err != nil {
			return err
		}
	}
	return nil
}

// TakeLookBack takes a look back; it stays on record as taken back.
func (s *Service) TakeLookBack(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "take look back", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Look](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if row.RecordedBy != a.UserID && !a.Role.Includes(farm.Manager) {
			return farm.ErrForbidden
		}
		return tx.Model(&store.Look{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("withdrawn", true).Error
	})
}

// mostSeen is how many classes one look may speak of.
const mostSeen = 50

// mostLooks is how many looks are shown, the latest.
const mostLooks = 100

// Looks are what a look may say, the last ones, and the points that photos are taken from.
func (s *Service) Looks(ctx context.Context, a farm.Actor) (LooksView, error) {
	out := LooksView{Asks: grazing.Asks(), Looks: []LookView{}, Points: []PointView{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return out, err
	}
	db := s.DB.WithContext(ctx)
	var rows []struct {
		store.Look
		By string
	}
	if err := db.Table("looks").Select("looks.*, users.name AS `by`").Joins("JOIN users ON users.id = looks.recorded_by").
		Where("looks.farm_id = ? AND NOT looks.withdrawn AND NOT EXISTS (SELECT 1 FROM looks l WHERE l.farm_id = looks.farm_id AND l.replaces_id = looks.id AND NOT l.withdrawn)", a.FarmID).
		Order("looks.seen_at DESC, looks.id").Limit(mostLooks).Find(&rows).Error; err != nil {
		return out, err
	}
	ids := []string{}
	for _, r := range rows {
		ids = append(ids, r.ID)
	}
	var photos []store.Photo
	if err := db.Omit("content").Order("taken_at, id").Find(&photos, "farm_id = ? AND (stop_id IN ? OR point <> '')", a.FarmID, append(ids, "")).Error; err != nil {
		return out, err
	}
	of, points := map[string][]PhotoView{}, map[[2]string]int{}
	for _, ph := range photos {
		v := PhotoView{ph.ID, ph.TakenAt, ph.Stage, ph.Point}
		of[ph.StopID] = append(of[ph.StopID], v)
		if ph.Point == "" {
			continue
		}
		key := [2]string{ph.PaddockID, ph.Point}
		if _, known := points[key]; !known {
			points[key] = len(out.Points)
			out.Points = append(out.Points, PointView{PaddockID: ph.PaddockID, PaddockName: se.Names[ph.PaddockID], Point: ph.Point})
		}
		out.Points[points[key]].Photos = append(out.Points[points[key]].Photos, v)
	}
	for _, r := range rows {
		v := LookView{ID: r.ID, PaddockID: r.PaddockID, PaddockName: se.Names[r.PaddockID], MobID: r.MobID, SeenAt: r.SeenAt, Stage: r.Stage, Answers: r.Answers.V, Ground: r.Ground.V,
			Animals: []SeenOf{}, Minds: append([]grazing.Reason{}, grazing.MindedAnswers(r.Answers.V)...), Note: r.Note, Return: r.ReturnOn, By: r.By, Photos: append([]PhotoView{}, of[r.ID]...)}
		v.Minds = append(v.Minds, r.Ground.V.Against(se.Row.Targets.V.Ground)...)
		for _, seen := range r.Animals.V {
			v.Animals = append(v.Animals, SeenOf{seen, se.ClassName(seen.ClassID)})
			v.Minds = append(v.Minds, seen.Minds(se.ClassName(seen.ClassID))...)
		}
		if r.MobID != nil {
			if i, ok := se.MobIndex[*r.MobID]; ok {
				v.MobName = se.Mobs[i].Name
			}
		}
		out.Looks = append(out.Looks, v)
	}
	return out, nil
}

// photosOf are the photos of some records, by them.
func photosOf(db *gorm.DB, farmID string, ids []string) (map[string][]string, error) {
	out := map[string][]string{}
	var photos []store.Photo
	if err := db.Omit("content").Order("taken_at, id").Find(&photos, "farm_id = ? AND stop_id IN ?", farmID, append(ids, "")).Error; err != nil {
		return nil, err
	}
	for _, ph := range photos {
		out[ph.StopID] = append(out[ph.StopID], ph.ID)
	}
	return out, nil
}
