package standin

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"net/http"
	"time"

	"github.com/google/uuid"

	"fjell/core/land"
)

// Patch is ground the stand-in plate walks over, with what really stands there.
type Patch struct {
	Ground land.Region
	Cm     float64 // compressed height, mean
}

// PlateReading is a reading of the stand-in plate, as it goes over the wire.
type PlateReading struct {
	ID        string    `json:"id"`
	Method    string    `json:"method"`
	Value     float64   `json:"value"`
	Longitude float64   `json:"longitude"`
	Latitude  float64   `json:"latitude"`
	TakenAt   time.Time `json:"taken_at,omitzero"` // zero: the plate has no clock
}

// Plate walks a zigzag over each patch and reads it as plates do: readings that scatter by a quarter, a spring that
// tires by a twentieth over the day, a position that wobbles by two metres, and now and then a height that is plainly
// wrong. A plate without a clock begins at the zero time. Ids follow from the seed, so that the same walk is the same readings.
func Plate(plane land.Plane, patches []Patch, drops int, began time.Time, seed uint64) []PlateReading {
	rng := rand.New(rand.NewPCG(seed, 31))
	var out []PlateReading
	total := float64(len(patches) * drops)
	for _, patch := range patches {
		b := patch.Ground.Bounds()
		for k, tries := 0, 0; k < drops && tries < drops*40; tries++ {
			t := (float64(k) + rng.Float64()) / float64(drops)
			zig := math.Abs(math.Mod(t*6, 2) - 1)
			pt := land.Point{X: b[0] + t*(b[2]-b[0]), Y: b[1] + (0.1+0.8*zig)*(b[3]-b[1])}
			if !patch.Ground.Contains(pt) {
				pt = land.Point{X: b[0] + rng.Float64()*(b[2]-b[0]), Y: b[1] + rng.Float64()*(b[3]-b[1])}
				if !patch.Ground.Contains(pt) {
					continue
				}
			}
			k++
			drift := 1 + 0.05*float64(len(out))/total
			cm := patch.Cm * drift * math.Exp(0.25*rng.NormFloat64()-0.03)
			if rng.Float64() < 0.01 {
				cm *= 3 // set down on a stone or a thistle
			}
			pos := plane.Inverse(land.Point{X: pt.X + rng.NormFloat64(), Y: pt.Y + rng.NormFloat64()})
			var raw [16]byte
			for i := range raw {
				raw[i] = byte(rng.UintN(256))
			}
			raw[6], raw[8] = raw[6]&0x0f|0x40, raw[8]&0x3f|0x80
			at := time.Time{}
			if !began.IsZero() {
				at = began.Add(time.Duration(len(out)) * 6 * time.Second)
			}
			out = append(out, PlateReading{uuid.UUID(raw).String(), "plate", math.Round(cm*2) / 2, pos[0], pos[1], at})
		}
	}
	return out
}

// Stream sends readings to a farm over HTTP as a device with a bad connection does: in small batches, every so often
// one twice, neighbours out of order. pause is the time between batches. It returns how many were sent, repeats
// included.
func Stream(ctx context.Context, client *http.Client, address, token string, readings []PlateReading, pause time.Duration, seed uint64) (sent int, err error) {
	rng := rand.New(rand.NewPCG(seed, 32))
	list := append([]PlateReading(nil), readings...)
	for i := range list {
		if j := i + rng.IntN(4); j < len(list) {
			list[i], list[j] = list[j], list[i]
		}
		if rng.Float64() < 0.1 {
			list = append(list, list[i])
		}
	}
	for start := 0; start < len(list); start += 10 {
		batch := list[start:min(start+10, len(list))]
		body, err := json.Marshal(map[string]any{"readings": batch})
		if err != nil {
			return sent, err
		}
		if err := post(ctx, client, address, token, body); err != nil {
			return sent, err
		}
		sent += len(batch)
		select {
		case <-ctx.Done():
			return sent, ctx.Err()
		case <-time.After(pause):
		}
	}
	return sent, nil
}

func post(ctx context.Context, client *http.Client, address, token string, body []byte) error {
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, address+"/api/devices/readings", bytes.NewReader(body))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Authorization", "Bearer "+token)
	resp, err := client.Do(req)
	if err != nil {
		return err
	}
	defer func() { _ = resp.Body.Close() }()
	answer, err := io.ReadAll(io.LimitReader(resp.Body, 1<<16))
	if err != nil {
		return err
	}
	if resp.StatusCode != http.StatusOK {
		return fmt.Errorf("the farm answered %s: %s", resp.Status, answer)
	}
	var said struct {
		Refused []struct{ Why string }
	}
	if err := json.Unmarshal(answer, &said); err != nil {
		return fmt.Errorf("the farm's answer cannot be read: %w", err)
	}
	if n := len(said.Refused); n > 0 {
		return fmt.Errorf("the farm refused %d readings: %s", n, said.Refused[0].Why)
	}
	return nil
}
