// Package picture reads pictures that people send, within bounds, and makes them as small as they are shown.
//
// A picture of a few kilobytes may unpack to gigabytes, and a file may end in the middle. So a picture is decoded as a whole
// before it is accepted, its size is bounded by what unpacking it takes in memory, and only so many are unpacked at a time as
// fit into a budget. What comes out is a JPEG, the way up that the camera noted and without what else the camera noted: not
// where it was taken, nor by whose telephone.
package picture

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // what a screen makes
	"math"

	"golang.org/x/image/draw"
	"golang.org/x/sync/semaphore"
)

// budget is how much memory all pictures that are unpacked at one time may take, in bytes. One alone may take all of it.
const budget = 160 << 20

var unpacking = semaphore.NewWeighted(budget)

// mostPixels is how many pixels a picture may have at most; those that take more memory for each may have fewer.
const mostPixels = 60_000_000

// Error says why a picture is not taken, and what would be.
type Error struct{ Reason, Accepted string }

func (e *Error) Error() string { return e.Reason + "; accepted: " + e.Accepted }

const accepted = "a whole JPEG of up to 50 megapixels or PNG of up to 30; 10 when the JPEG is progressive or the PNG has 16 bits a color"

// Small is a picture as it is kept or printed.
type Small struct {
	JPEG          []byte
	Width, Height int
}

// Shrink unpacks a whole picture, turns it upright and makes it no larger than side pixels on its longer side. It waits while
// others are unpacked, and fails with an Error for what is no whole picture or would take too much memory.
func Shrink(ctx context.Context, data []byte, side, quality int) (Small, error) {
	return Fit(ctx, data, quality, func(w, h int) (int, int) {
		scale := math.Min(1, float64(side)/float64(max(w, h)))
		return max(1, int(float64(w)*scale)), max(1, int(float64(h)*scale))
	})
}

// Fit is Shrink to the size that is asked for, given that of the upright picture; it never makes one larger.
func Fit(ctx context.Context, data []byte, quality int, size func(w, h int) (int, int)) (Small, error) {
	config, kind, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || config.Width < 1 || config.Height < 1 || kind != "jpeg" && kind != "png" { // other packages register other kinds
		return Small{}, &Error{"not a picture that can be read", accepted}
	}
	pixels := int64(config.Width) * int64(config.Height)
	need := pixels * perPixel(data, kind, config.ColorModel)
	if pixels > mostPixels || need > budget {
		return Small{}, &Error{fmt.Sprintf("%d × %d pixels take too much memory", config.Width, config.Height), accepted}
	}
	if err := unpacking.Acquire(ctx, need); err != nil {
		return Small{}, err
	}
	defer unpacking.Release(need)
	src, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return Small{}, &Error{"the picture is not whole: " + err.Error(), accepted}
	}
	turn := orientation(data)
	w, h := src.Bounds().Dx(), src.Bounds().Dy()
	if turn >= 5 {
		w, h = h, w
	}
	w, h = size(w, h)
	lying := image.Pt(w, h)
	if turn >= 5 {
		lying = image.Pt(h, w)
	}
	small := scaled(src, lying)
	var b bytes.Buffer
	err = jpeg.Encode(&b, upright(small, turn), &jpeg.Options{Quality: quality})
	return Small{b.Bytes(), w, h}, err
}

// perPixel is what unpacking takes in memory for each pixel, in bytes, at most.
func perPixel(data []byte, kind string, model color.Model) int64 {
	if kind == "jpeg" {
		if progressive(data) {
			return 15 // its coefficients are kept beside the pixels
		}
		return 3 // at most, without thinned colours
	}
	switch model {
	case color.GrayModel:
		return 2
	case color.RGBA64Model, color.NRGBA64Model:
		return 12
	case color.Gray16Model:
		return 4
	}
	if _, paletted := model.(color.Palette); paletted {
		return 2
	}
	return 5 // a pass of an interlaced picture lies beside the whole
}

// progressive reports whether a JPEG comes in passes (ITU-T T.81, B.1.1.3: SOF2).
func progressive(data []byte) bool {
	found := false
	segments(data, func(marker byte, _ []byte) bool {
		found = marker == 0xc2
		return !found && marker != 0xda
	})
	return found
}

// segments hands out the segments of a JPEG before its pixels, while next asks for more.
func segments(data []byte, next func(marker byte, body []byte) bool) {
	for at := 2; at+4 <= len(data) && data[at] == 0xff; {
		marker := data[at+1]
		if marker == 0xff { // a fill byte
			at++
			continue
		}
		n := int(binary.BigEndian.Uint16(data[at+2:]))
		if n < 2 || at+2+n > len(data) || !next(marker, data[at+4:at+2+n]) {
			return
		}
		at += 2 + n
	}
}

// orientation is how the camera was held, 1 to 8 (Exif 2.3, tag 0x0112); 1 when it is not noted.
func orientation(data []byte) int {
	out := 1
	segments(data, func(marker byte, body []byte) bool {
		tiff, ok := bytes.CutPrefix(body, []byte("Exif\x00\x00"))
		if marker != 0xe1 || !ok {
			return marker != 0xda
		}
		out = orientationTag(tiff)
		return false
	})
	return out
}

func orientationTag(tiff []byte) int {
	var order binary.ByteOrder
	switch {
	case bytes.HasPrefix(tiff, []byte("II*\x00")):
		order = binary.LittleEndian
	case bytes.HasPrefix(tiff, []byte("MM\x00*")):
		order = binary.BigEndian
	default:
		return 1
	}
	if len(tiff) < 8 {
		return 1
	}
	at := int64(order.Uint32(tiff[4:]))
	if at+2 > int64(len(tiff)) {
		return 1
	}
	count := int64(order.Uint16(tiff[at:]))
	for i := range count {
		entry := at + 2 + 12*i
		if entry+12 > int64(len(tiff)) {
			return 1
		}
		if order.Uint16(tiff[entry:]) == 0x0112 {
			if v := int(order.Uint16(tiff[entry+8:])); v >= 1 && v <= 8 {
				return v
			}
			return 1
		}
	}
	return 1
}

// scaled is a picture at a size, on white where it is clear. What is far larger is averaged by whole pixels first: a filter
// over all of it would take many times its memory.
func scaled(src image.Image, size image.Point) *image.RGBA {
	b := src.Bounds()
	step := max(1, min(b.Dx()/size.X, b.Dy()/size.Y))
	middle := averaged(src, step)
	out := image.NewRGBA(image.Rectangle{Max: size})
	if middle.Bounds().Size() == size {
		return middle
	}
	draw.ApproxBiLinear.Scale(out, out.Bounds(), middle, middle.Bounds(), draw.Src, nil)
	return out
}

// averaged makes one pixel of each step × step, on white.
func averaged(src image.Image, step int) *image.RGBA {
	b := src.Bounds()
	w, h := b.Dx()/step, b.Dy()/step
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	at := pixels(src)
	n := uint64(step * step)
	for y := range h {
		for x := range w {
			var r, g, bl uint64
			for dy := range step {
				for dx := range step {
					c := at(b.Min.X+x*step+dx, b.Min.Y+y*step+dy)
					clear := uint64(0xffff - c.A) // colours come multiplied by their alpha
					r, g, bl = r+uint64(c.R)+clear, g+uint64(c.G)+clear, bl+uint64(c.B)+clear
				}
			}
			i := out.PixOffset(x, y)
			out.Pix[i], out.Pix[i+1], out.Pix[i+2], out.Pix[i+3] = uint8(r/n>>8), uint8(g/n>>8), uint8(bl/n>>8), 0xff
		}
	}
	return out
}

// pixels reads pixels without making a value of each.
func pixels(src image.Image) func(x, y int) color.RGBA64 {
	if s, ok := src.(image.RGBA64Image); ok {
		return s.RGBA64At
	}
	return func(x, y int) color.RGBA64 {
		r, g, b, a := src.At(x, y).RGBA()
		return color.RGBA64{R: uint16(r), G: uint16(g), B: uint16(b), A: uint16(a)}
	}
}

// upright turns a picture that was taken as noted.
func upright(src *image.RGBA, turn int) *image.RGBA {
	if turn == 1 {
		return src
	}
	w, h := src.Bounds().Dx(), src.Bounds().Dy()
	size := image.Rect(0, 0, w, h)
	if turn >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	out := image.NewRGBA(size)
	for y := range h {
		for x := range w {
			var to image.Point
			switch turn {
			case 2:
				to = image.Pt(w-1-x, y)
			case 3:
				to = image.Pt(w-1-x, h-1-y)
			case 4:
				to = image.Pt(x, h-1-y)
			case 5:
				to = image.Pt(y, x)
			case 6:
				to = image.Pt(h-1-y, x)
			case 7:
				to = image.Pt(h-1-y, w-1-x)
			default:
				to = image.Pt(y, w-1-x)
			}
			copy(out.Pix[out.PixOffset(to.X, to.Y):], src.Pix[src.PixOffset(x, y):src.PixOffset(x, y)+4])
		}
	}
	return out
}
