package farm

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// shot is a JPEG as a camera makes it: dark at its left edge, held in some way, with a place and a tail.
func shot(t *testing.T, orientation uint16) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 64, 32))
	for x := range 64 {
		for y := range 32 {
			img.Set(x, y, color.White)
			if x < 16 {
				img.Set(x, y, color.Black)
			}
		}
	}
	var plain bytes.Buffer
	require.NoError(t, jpeg.Encode(&plain, img, nil))
	exif := []byte("Exif\x00\x00II*\x00\x08\x00\x00\x00\x01\x00\x12\x01\x03\x00\x01\x00\x00\x00")
	exif = binary.LittleEndian.AppendUint16(exif, orientation)
	exif = append(exif, "\x00\x00\x00\x00\x00\x00GPS 61.137 9.214"...)
	out := []byte{0xFF, 0xD8, 0xFF, 0xE1}
	out = binary.BigEndian.AppendUint16(out, uint16(len(exif)+2))
	out = append(append(out, exif...), plain.Bytes()[2:]...)
	return append(out, "<script>tail</script>"...)
}

func TestAPhotoIsDrawnAnew(t *testing.T) {
	var s studio
	dark := func(img image.Image, x, y int) bool {
		r, _, _, _ := img.At(x, y).RGBA()
		return r < 0x8000
	}
	for orientation, at := range map[uint16][2]int{1: {4, 16}, 2: {60, 16}, 3: {60, 16}, 4: {4, 16}, 5: {16, 4}, 6: {16, 4}, 7: {16, 60}, 8: {16, 60}} {
		kind, out, size, err := s.anew(t.Context(), shot(t, orientation), PhotoSide)
		require.NoError(t, err)
		assert.Equal(t, "image/jpeg", kind)
		assert.NotContains(t, string(out), "GPS", "no place")
		assert.NotContains(t, string(out), "script", "no tail")
		assert.Equal(t, orientation >= 5, size.Y > size.X, "orientation %d", orientation)
		img, err := jpeg.Decode(bytes.NewReader(out))
		require.NoError(t, err)
		assert.True(t, dark(img, at[0], at[1]), "orientation %d: what was at the left edge", orientation)
		assert.False(t, dark(img, size.X/2, size.Y/2))
	}
	_, out, size, err := s.anew(t.Context(), shot(t, 1), 20)
	require.NoError(t, err)
	assert.Equal(t, 20, size.X, "no longer than asked for")
	assert.NotEmpty(t, out)
}

func TestAPictureOfTooManyPointsIsNotRead(t *testing.T) {
	var s studio
	var small bytes.Buffer
	require.NoError(t, png.Encode(&small, image.NewGray(image.Rect(0, 0, 2, 2))))
	bomb := small.Bytes()
	binary.BigEndian.PutUint32(bomb[16:], 60000)
	binary.BigEndian.PutUint32(bomb[20:], 60000)
	for name, raw := range map[string][]byte{"promises much": bomb, "no picture": []byte("GIF89a"), "breaks off": shot(t, 1)[:300], "nothing": nil} {
		_, _, _, err := s.anew(t.Context(), raw, PhotoSide)
		assert.Error(t, err, name)
	}
	for _, raw := range [][]byte{nil, {0xFF, 0xD8}, []byte("\xFF\xD8\xFF\xE1\x00\x10Exif\x00\x00II*\x00\xFF\xFF\xFF\x7F"), bytes.Repeat([]byte{0xFF}, 64)} {
		assert.Equal(t, 1, orientation(raw))
	}
}
