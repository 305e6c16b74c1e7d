package picture

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"
)

// corner is a picture of 40 by 20 whose upper left quarter is white.
func corner() image.Image {
	m := image.NewRGBA(image.Rect(0, 0, 40, 20))
	for y := range 20 {
		for x := range 40 {
			c := color.RGBA{A: 255}
			if x < 20 && y < 10 {
				c = color.RGBA{255, 255, 255, 255}
			}
			m.Set(x, y, c)
		}
	}
	return m
}

// withTurn is a JPEG whose camera noted how it was held: Exif 2.3, tag 0x0112, in a TIFF header of either byte order.
func withTurn(t *testing.T, turn int, order binary.AppendByteOrder, mark string) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, corner(), nil); err != nil {
		t.Fatal(err)
	}
	tiff := []byte(mark)
	tiff = order.AppendUint16(tiff, 42)
	tiff = order.AppendUint32(tiff, 8)
	tiff = order.AppendUint16(tiff, 1)
	tiff = order.AppendUint16(tiff, 0x0112)
	tiff = order.AppendUint16(tiff, 3)
	tiff = order.AppendUint32(tiff, 1)
	tiff = order.AppendUint16(tiff, uint16(turn))
	tiff = append(tiff, 0, 0, 0, 0, 0, 0)
	body := append([]byte("Exif\x00\x00"), tiff...)
	app := binary.BigEndian.AppendUint16([]byte{0xff, 0xe1}, uint16(len(body)+2))
	return append(append(append([]byte{}, b.Bytes()[:2]...), append(app, body...)...), b.Bytes()[2:]...)
}

// Where the white quarter is to be seen after each of the eight ways of holding a camera (Exif 2.3, table of tag 0x0112:
// where row 0 and column 0 of the file lie on the scene).
func TestAPictureStandsUpright(t *testing.T) {
	for turn, want := range map[int]struct{ w, h, right, low int }{
		1: {40, 20, 0, 0}, 2: {40, 20, 1, 0}, 3: {40, 20, 1, 1}, 4: {40, 20, 0, 1},
		5: {20, 40, 0, 0}, 6: {20, 40, 1, 0}, 7: {20, 40, 1, 1}, 8: {20, 40, 0, 1},
	} {
		for mark, order := range map[string]binary.AppendByteOrder{"II": binary.LittleEndian, "MM": binary.BigEndian} {
			got, err := Shrink(context.Background(), withTurn(t, turn, order, mark), 1600, 90)
			if err != nil || got.Width != want.w || got.Height != want.h {
				t.Errorf("turn %d, %s: %d × %d, %v", turn, mark, got.Width, got.Height, err)
				continue
			}
			m, err := jpeg.Decode(bytes.NewReader(got.JPEG))
			if err != nil {
				t.Fatal(err)
			}
			for right := range 2 {
				for low := range 2 {
					r, _, _, _ := m.At(want.w/4+right*want.w/2, want.h/4+low*want.h/2).RGBA()
					if white := r > 0x8000; white != (right == want.right && low == want.low) {
						t.Errorf("turn %d, %s: quarter %d,%d is white: %v", turn, mark, right, low, white)
					}
				}
			}
			if bytes.Contains(got.JPEG, []byte("Exif")) {
				t.Error("what the camera noted is still there")
			}
		}
	}
}

func TestAPictureIsMadeSmallerAndNeverLarger(t *testing.T) {
	for side, want := range map[int]image.Point{1600: {40, 20}, 10: {10, 5}, 1: {1, 1}} {
		var b bytes.Buffer
		if err := png.Encode(&b, corner()); err != nil {
			t.Fatal(err)
		}
		if got, err := Shrink(context.Background(), b.Bytes(), side, 90); err != nil || got.Width != want.X || got.Height != want.Y {
			t.Errorf("%d: %d × %d, %v", side, got.Width, got.Height, err)
		}
	}
}

// Whatever is no whole picture, or takes too much to unpack, is refused with what would be accepted.
func TestWhatIsNoWholePictureIsRefused(t *testing.T) {
	whole := withTurn(t, 6, binary.LittleEndian, "II")
	var wide bytes.Buffer
	if err := png.Encode(&wide, image.NewGray(image.Rect(0, 0, 10, 10))); err != nil {
		t.Fatal(err)
	}
	huge := bytes.Clone(wide.Bytes())
	binary.BigEndian.PutUint32(huge[16:], 60_000) // PNG, IHDR: width and height, W3C PNG 11.2.2
	binary.BigEndian.PutUint32(huge[20:], 60_000)
	for name, data := range map[string][]byte{"nothing": nil, "words": []byte("no picture"), "the first half": whole[:len(whole)/2], "a size that it does not have": huge, "another kind": []byte("GIF89a\x01\x00\x01\x00")} {
		var refused *Error
		if _, err := Shrink(context.Background(), data, 1600, 90); !errors.As(err, &refused) || refused.Accepted == "" {
			t.Errorf("%s: %v", name, err)
		}
	}
	ended, cancel := context.WithCancel(context.Background())
	cancel()
	if err := unpacking.Acquire(context.Background(), budget); err != nil {
		t.Fatal(err)
	}
	defer unpacking.Release(budget)
	if _, err := Shrink(ended, whole, 1600, 90); !errors.Is(err, context.Canceled) {
		t.Errorf("while others are unpacked and the page has gone: %v", err)
	}
}

func FuzzShrink(f *testing.F) {
	var b bytes.Buffer
	_ = jpeg.Encode(&b, corner(), nil)
	f.Add(b.Bytes())
	f.Add([]byte{0xff, 0xd8, 0xff, 0xe1, 0, 2})
	f.Fuzz(func(t *testing.T, data []byte) {
		got, err := Shrink(context.Background(), data, 64, 80)
		if err == nil && (got.Width < 1 || got.Width > 64 || got.Height < 1 || got.Height > 64) {
			t.Errorf("%d × %d", got.Width, got.Height)
		}
	})
}
