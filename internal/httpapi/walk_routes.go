package httpapi

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/working"
	"fjell/internal/farm/walk"
	"fjell/internal/standin"
	"fjell/internal/store"
)

type photoInput struct {
	FarmPath
	ID      string    `query:"id" required:"true" format:"uuid"`
	Stop    string    `query:"stop" required:"true" format:"uuid" doc:"the measurement it belongs to, which may come after it"`
	Paddock string    `query:"paddock" required:"true" format:"uuid"`
	TakenAt time.Time `query:"taken_at" required:"true"`
	Stage   string    `query:"stage" enum:"before,during,after," doc:"of a stay"`
	Point   string    `query:"point" doc:"the point it is taken from again and again"`
	RawBody []byte    `contentType:"application/octet-stream"`
}

type deviceReadings struct {
	Authorization string `header:"Authorization" doc:"Bearer and the device's token"`
	Body          walk.ReadingsInput
}

type senderKey struct{}

// knownSender asks whose token it is before what was sent is read.
func (s *Server) knownSender(op *huma.Operation) {
	op.Middlewares = append(op.Middlewares, func(ctx huma.Context, next func(huma.Context)) {
		asking, cancel := context.WithTimeout(ctx.Context(), sessionWait)
		defer cancel()
		token, ok := strings.CutPrefix(ctx.Header("Authorization"), "Bearer ")
		device, err := s.House.Walk.Sender(asking, token)
		if !ok {
			err = walk.ErrToken
		}
		if err != nil {
			s.writeProblem(ctx, problem(ctx.Context(), err))
			return
		}
		next(huma.WithValue(ctx, senderKey{}, device))
	})
}

// Fit is a line through heights and clips, with its working.
type Fit struct {
	forage.CalibrateOut
	Steps []working.Step `json:"steps" nullable:"false"`
}

// StandInput has the stand-in plate send readings as a device.
type StandInput struct {
	Token string  `json:"token" doc:"the device's token, as it was shown when the device was made"`
	Drops int     `json:"drops_each" minimum:"1" maximum:"60"`
	Seed  float64 `json:"seed,omitempty"`
}

// Sent counts what a stand-in sent, repeats included.
type Sent struct {
	Sent int `json:"sent"`
}

func (s *Server) walkRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/walk", "walk", "The round of paddocks", func(ctx context.Context, _ *FarmPath) (*body[walk.WalkView], error) {
		return answer(h.Walk.Walk(ctx, actor(ctx)))
	}, live)
	route(s, manager, http.MethodPut, "/api/farms/{farm}/walk/order", "walk-order", "Set the farm's own order of the walk", func(ctx context.Context, in *setting[walk.WalkOrderInput]) (*body[walk.WalkView], error) {
		return answer(h.Walk.SetWalkOrder(ctx, actor(ctx), in.Version, in.Body))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/measurements", "record-measurement", "Keep a measurement", func(ctx context.Context, in *in[walk.NewMeasurement]) (*empty, error) {
		return &empty{}, h.Walk.RecordMeasurement(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/measurements/{id}", "withdraw-measurement", "Take a measurement back", func(ctx context.Context, in *ItemPath) (*body[walk.WalkView], error) {
		return answer(h.Walk.WithdrawMeasurement(ctx, actor(ctx), in.ID))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/measurements/{id}/answer", "answer-odd", "Say what a measurement far off was", func(ctx context.Context, in *inItem[walk.OddAnswer]) (*body[walk.WalkView], error) {
		return answer(h.Walk.AnswerOdd(ctx, actor(ctx), in.ID, in.Body))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/gate-calls", "keep-gate-call", "Keep one figure seen at a gate, what was said of it, and what was done", func(ctx context.Context, in *in[walk.NewGateCall]) (*empty, error) {
		return &empty{}, h.Walk.RecordGateCall(ctx, actor(ctx), in.Body)
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/readings", "keep-readings", "Keep single readings the moment they come", func(ctx context.Context, in *in[walk.ReadingsInput]) (*body[walk.ReadingsView], error) {
		return answer(h.Walk.KeepReadings(ctx, actor(ctx), in.Body))
	}, room(outboxBody))
	route(s, hand, http.MethodPost, "/api/farms/{farm}/photos", "keep-photo", "Keep a photo of a stop", func(ctx context.Context, in *photoInput) (*empty, error) {
		return &empty{}, h.Walk.KeepPhoto(ctx, actor(ctx), walk.NewPhoto{ID: in.ID, StopID: in.Stop, PaddockID: in.Paddock, TakenAt: in.TakenAt, Stage: in.Stage, Point: in.Point, Content: in.RawBody})
	}, rawJSON, room(walk.MostPhotoBytes+1024))
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/photos/{id}", "photo", "A photo of a walk", func(ctx context.Context, in *ItemPath) (*file, error) {
		kind, raw, err := h.Walk.Photo(ctx, actor(ctx), in.ID)
		return &file{kind, "inline", raw}, err
	})
	route(s, hand, http.MethodDelete, "/api/farms/{farm}/photos/{id}", "remove-photo", "Take a photo away for good", func(ctx context.Context, in *ItemPath) (*empty, error) {
		return &empty{}, h.Walk.RemovePhoto(ctx, actor(ctx), in.ID)
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/growth", "growth", "What grew between the walks", func(ctx context.Context, _ *FarmPath) (*body[walk.GrowthView], error) {
		return answer(h.Walk.Growth(ctx, actor(ctx)))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/growth/curve", "set-curve", "Choose the growth curve of a sward on this farm", func(ctx context.Context, in *setting[walk.CurveInput]) (*body[walk.GrowthView], error) {
		return answer(h.Walk.SetCurve(ctx, actor(ctx), in.Version, in.Body))
	})
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/eyes", "eyes", "How near each walker's eye comes", func(ctx context.Context, _ *FarmPath) (*body[[]walk.WalkerView], error) {
		return answer(h.Walk.Eyes(ctx, actor(ctx)))
	}, live)
	s.calibrationRoutes()
	s.readingRoutes()
	s.weatherRoutes()
}

func (s *Server) calibrationRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/calibrations", "calibrations", "The farm's calibrations", func(ctx context.Context, _ *FarmPath) (*body[walk.CalibrationsView], error) {
		return answer(h.Walk.Calibrations(ctx, actor(ctx)))
	})
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/calibrations/fit", "fit-calibration", "The line through heights and clips; nothing is written", func(_ context.Context, in *in[walk.CalibrationInput]) (*body[Fit], error) {
		fit, steps, err := h.Walk.FitCalibration(in.Body)
		return answer(Fit{fit, append([]working.Step{}, steps...)}, err)
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/calibrations", "keep-calibration", "Take a calibration into use", func(ctx context.Context, in *in[walk.NewCalibration]) (*body[walk.CalibrationsView], error) {
		return answer(h.Walk.KeepCalibration(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPut, "/api/farms/{farm}/calibrations/{id}", "retire-calibration", "Take a calibration out of use, or back into it", func(ctx context.Context, in *change[walk.RetireInput]) (*body[walk.CalibrationsView], error) {
		return answer(h.Walk.RetireCalibration(ctx, actor(ctx), in.ID, in.Version, in.Body))
	})
	route(s, viewer, http.MethodPost, "/api/farms/{farm}/meters", "compare-meters", "How two meters differ, and which to trust", func(_ context.Context, in *in[walk.MetersInput]) (*body[walk.MetersView], error) {
		return answer(h.Walk.CompareMeters(in.Body))
	})
}

func (s *Server) readingRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/devices", "devices", "Devices that send readings", func(ctx context.Context, _ *FarmPath) (*body[[]walk.DeviceView], error) {
		return answer(h.Walk.Devices(ctx, actor(ctx)))
	}, live)
	route(s, manager, http.MethodPost, "/api/farms/{farm}/devices", "add-device", "Make a device and its token", func(ctx context.Context, in *in[walk.NewDevice]) (*body[walk.DeviceView], error) {
		return answer(h.Walk.AddDevice(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodDelete, "/api/farms/{farm}/devices/{id}", "revoke-device", "Shut a device out; what it sent stays", func(ctx context.Context, in *ItemPath) (*body[[]walk.DeviceView], error) {
		return answer(h.Walk.RevokeDevice(ctx, actor(ctx), in.ID))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/devices/stand-in", "stand-in-plate", "Have the stand-in plate walk the farm and send its readings over HTTP", func(ctx context.Context, in *in[StandInput]) (*body[Sent], error) {
		return answer(s.standIn(ctx, in.Body))
	})
	route(s, anyone, http.MethodPost, "/api/devices/readings", "ingest", "Readings of a device, known by its token", func(ctx context.Context, in *deviceReadings) (*body[walk.ReadingsView], error) {
		device, _ := ctx.Value(senderKey{}).(store.Device)
		return answer(h.Walk.Ingest(ctx, device, in.Body))
	}, s.knownSender, room(outboxBody))
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/readings/waiting", "waiting-readings", "Readings of devices and files, by paddock", func(ctx context.Context, _ *FarmPath) (*body[walk.WaitingView], error) {
		return answer(h.Walk.Waiting(ctx, actor(ctx)))
	}, live)
	route(s, hand, http.MethodPost, "/api/farms/{farm}/readings/take", "take-readings", "Make measurements of waiting readings", func(ctx context.Context, in *in[walk.TakeIn]) (*body[walk.WalkView], error) {
		return answer(h.Walk.TakeReadings(ctx, actor(ctx), in.Body))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/readings/file", "reading-file", "What a file of readings holds; kept when asked", func(ctx context.Context, in *in[walk.ReadingFileInput]) (*body[walk.ReadingFileView], error) {
		return answer(h.Walk.ReadReadingFile(ctx, actor(ctx), in.Body))
	}, room(8<<20))
}

func (s *Server) weatherRoutes() {
	h := s.House
	route(s, viewer, http.MethodGet, "/api/farms/{farm}/weather", "weather", "The weather and what it means for growth", func(ctx context.Context, _ *FarmPath) (*body[walk.WeatherView], error) {
		return answer(h.Walk.Weather(ctx, actor(ctx)))
	})
	route(s, hand, http.MethodPost, "/api/farms/{farm}/weather/days", "keep-weather", "Write a day's weather down", func(ctx context.Context, in *in[walk.WeatherDayInput]) (*body[walk.WeatherView], error) {
		return answer(h.Walk.KeepWeatherDay(ctx, actor(ctx), in.Body))
	})
	route(s, manager, http.MethodPost, "/api/farms/{farm}/weather/file", "weather-file", "What a file of weather holds; kept when asked", func(ctx context.Context, in *in[walk.WeatherFileInput]) (*body[walk.WeatherFileView], error) {
		return answer(h.Walk.ReadWeatherFile(ctx, actor(ctx), in.Body))
	}, room(4<<20))
	route(s, manager, http.MethodPut, "/api/farms/{farm}/weather", "set-weather", "Where weather comes from, and what the soil holds", func(ctx context.Context, in *setting[walk.WeatherSettings]) (*body[walk.WeatherView], error) {
		return answer(h.Walk.SetWeather(ctx, actor(ctx), in.Version, in.Body))
	})
}

// standIn streams a walk of the stand-in plate to this server's own address, as any device would.
func (s *Server) standIn(ctx context.Context, in StandInput) (Sent, error) {
	local, ok := ctx.Value(http.LocalAddrContextKey).(net.Addr)
	if !ok || s.Options.TLS {
		return Sent{}, quantity.Refuse("token", nil, "here the stand-in is started from the command line: fjell standin plate")
	}
	plane, patches, now, err := s.House.Walk.StandInGround(ctx, actor(ctx))
	if err != nil {
		return Sent{}, err
	}
	if len(patches) == 0 {
		return Sent{}, quantity.Refuse("token", nil, "there is no paddock to walk over yet")
	}
	readings := standin.Plate(plane, patches, in.Drops, now.Add(-time.Duration(len(patches)*in.Drops)*6*time.Second), uint64(in.Seed))
	sent, err := standin.Stream(ctx, http.DefaultClient, "http://"+local.String(), in.Token, readings, 0, uint64(in.Seed))
	if err != nil && !errors.Is(err, context.Canceled) {
		return Sent{sent}, quantity.Refuse("token", nil, "%s", fmt.Sprint(err))
	}
	return Sent{sent}, err
}
