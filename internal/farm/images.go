package farm

import (
	"bytes"
	"context"
	"encoding/binary"
	"image"
	"image/jpeg"
	"image/png"
	"runtime"
	"sync"

	"golang.org/x/image/draw"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Pictures that come in are drawn anew and kept as they were drawn: what a camera writes beside the picture, the place it
// was taken at above all, and whatever hangs behind its end, does not come along.

// Limits of pictures.
const (
	mostPoints   = 40_000_000 // of a picture that is read at all: 160 MB while it is
	PhotoSide    = 2560       // points along the longer side of a photo that is kept
	PictureSide  = 12000      // of the farm's own picture of its ground
	photoQuality = 85
)

// Reading waits for a turn to read a foreign file: few at a time, since each may be made to take much.
func (s *Service) Reading(ctx context.Context) (leave func(), err error) { return s.readers.enter(ctx) }

// DrawAnew decodes a PNG or JPEG, turns it upright, makes it no longer than a side, and encodes it again.
func (s *Service) DrawAnew(ctx context.Context, content []byte, side int) (kind string, out []byte, size image.Point, err error) {
	return s.studio.anew(ctx, content, side)
}

// studio bounds how many pictures are drawn, or files read, at once. The zero value is ready.
type studio struct {
	once  sync.Once
	turns chan struct{}
}

func (s *studio) enter(ctx context.Context) (func(), error) {
	s.once.Do(func() { s.turns = make(chan struct{}, min(2, runtime.GOMAXPROCS(0))) })
	select {
	case s.turns <- struct{}{}:
		return func() { <-s.turns }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// anew decodes a PNG or JPEG, turns it upright, makes it no longer than a side, and encodes it again.
func (s *studio) anew(ctx context.Context, content []byte, side int) (kind string, out []byte, size image.Point, err error) {
	about, format, err := image.DecodeConfig(bytes.NewReader(content))
	if err != nil || format != "png" && format != "jpeg" {
		return "", nil, size, quantity.Refuse("content", nil, "this is neither a PNG nor a JPEG")
	}
	if about.Width < 1 || about.Height < 1 || about.Width*about.Height > mostPoints {
		return "", nil, size, quantity.Refuse("content", nil, "the picture has %d × %d points; at most %d million are read", about.Width, about.Height, mostPoints/1_000_000)
	}
	leave, err := s.enter(ctx)
	if err != nil {
		return "", nil, size, err
	}
	defer leave()
	picture, _, err := image.Decode(bytes.NewReader(content))
	if err != nil {
		return "", nil, size, quantity.Refuse("content", nil, "the picture breaks off")
	}
	if format == "jpeg" {
		picture = upright(picture, orientation(content))
	}
	if longest := max(picture.Bounds().Dx(), picture.Bounds().Dy()); longest > side {
		b := picture.Bounds()
		small := image.NewRGBA(image.Rect(0, 0, max(1, b.Dx()*side/longest), max(1, b.Dy()*side/longest)))
		draw.ApproxBiLinear.Scale(small, small.Bounds(), picture, b, draw.Src, nil)
		picture = small
	}
	var buffer bytes.Buffer
	if format == "png" {
		err = png.Encode(&buffer, picture)
	} else {
		err = jpeg.Encode(&buffer, picture, &jpeg.Options{Quality: photoQuality})
	}
	return "image/" + format, buffer.Bytes(), picture.Bounds().Size(), err
}

// orientation is how a camera was held, by the Exif tag 274 (Exif 2.32 § 4.6.4); 1 where nothing says.
func orientation(content []byte) int {
	at := 2
	for at+4 <= len(content) && content[at] == 0xFF {
		marker, length := content[at+1], int(binary.BigEndian.Uint16(content[at+2:]))
		if marker == 0xDA || length < 2 || at+2+length > len(content) {
			break
		}
		segment := content[at+4 : at+2+length]
		at += 2 + length
		if marker != 0xE1 || len(segment) < 14 || string(segment[:6]) != "Exif\x00\x00" {
			continue
		}
		return orientationIn(segment[6:])
	}
	return 1
}

func orientationIn(tiff []byte) int {
	var order binary.ByteOrder = binary.BigEndian
	if string(tiff[:2]) == "II" {
		order = binary.LittleEndian
	}
	first := int(order.Uint32(tiff[4:]))
	if first < 8 || first+2 > len(tiff) {
		return 1
	}
	for i := range int(order.Uint16(tiff[first:])) {
		entry := first + 2 + 12*i
		if entry+12 > len(tiff) {
			break
		}
		if order.Uint16(tiff[entry:]) == 274 {
			if o := int(order.Uint16(tiff[entry+8:])); o >= 1 && o <= 8 {
				return o
			}
		}
	}
	return 1
}

// upright turns and mirrors a picture as its orientation says.
func upright(p image.Image, orientation int) image.Image {
	if orientation == 1 {
		return p
	}
	b := p.Bounds()
	w, h := b.Dx(), b.Dy()
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	if orientation >= 5 {
		out = image.NewRGBA(image.Rect(0, 0, h, w))
	}
	for y := range h {
		for x := range w {
			u, v := x, y
			switch orientation {
			case 2:
				u, v = w-1-x, y
			case 3:
				u, v = w-1-x, h-1-y
			case 4:
				u, v = x, h-1-y
			case 5:
				u, v = y, x
			case 6:
				u, v = h-1-y, x
			case 7:
				u, v = h-1-y, w-1-x
			case 8:
				u, v = y, w-1-x
			}
			out.Set(u, v, p.At(b.Min.X+x, b.Min.Y+y))
		}
	}
	return out
}

// usualFarmBytes is how much room a farm has for photos and pictures unless its house says otherwise.
const usualFarmBytes = 2 << 30

// Room refuses a picture for which a farm has none left.
func (tx *Writing) Room(bytes int) error {
	most := tx.service.FarmBytes
	if most == 0 {
		most = usualFarmBytes
	}
	used := int64(0)
	for _, row := range []any{&store.Photo{}, &store.GroundPicture{}} {
		var n int64
		if err := tx.Model(row).Where("farm_id = ?", tx.Farm.ID).Select("COALESCE(SUM(LENGTH(content)), 0)").Scan(&n).Error; err != nil {
			return err
		}
		used += n
	}
	if used+int64(bytes) > most {
		return quantity.Refuse("content", nil, "the farm's photos and pictures fill the %d MB it has: take some away first", most>>20)
	}
	return nil
}
