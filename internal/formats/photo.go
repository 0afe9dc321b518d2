package formats

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // photographs may be PNG

	"golang.org/x/image/draw"
)

// Bounds of a photograph that is taken in.
const (
	MaxPhotoBytes = 12 << 20
	PhotoPixels   = 50 << 20 // what is unpacked in memory

	PlayerPhotoPixels = 24 << 20 // of whoever is not signed in

	photoEdge     = 1600 // the longer edge of what is kept
	thumbnailEdge = 240
	photoQuality  = 82
)

// A Photo is a photograph made fit to keep: upright, of a modest size, as JPEG without anything but the picture.
type Photo struct {
	Width, Height   int
	Full, Thumbnail []byte // JPEG
}

// ErrNoPhoto says that a file is not a photograph that can be read. It is wrapped with the reason.
var ErrNoPhoto = errors.New("is not a JPEG or PNG photograph")

// pointBytes is how many bytes a point takes once it is unpacked.
func pointBytes(m color.Model) int64 {
	switch m {
	case color.GrayModel:
		return 1
	case color.Gray16Model:
		return 2
	case color.YCbCrModel:
		return 3
	case color.NRGBA64Model, color.RGBA64Model:
		return 8
	}
	if _, paletted := m.(color.Palette); paletted {
		return 1
	}
	return 4
}

// ReadPhoto reads a JPEG or PNG, while ctx waits for it. What the camera wrote beside the picture (place, time, maker) is dropped; its note on
// which side is up is followed. One of more than most points is not unpacked.
func ReadPhoto(ctx context.Context, file []byte, most int) (Photo, error) {
	if len(file) > MaxPhotoBytes {
		return Photo{}, fmt.Errorf("%w: it has %d MB, and at most %d MB are taken", ErrNoPhoto, len(file)>>20, MaxPhotoBytes>>20)
	}
	config, format, err := image.DecodeConfig(bytes.NewReader(file))
	if err != nil || format != "jpeg" && format != "png" {
		return Photo{}, ErrNoPhoto
	}
	if config.Width < 1 || config.Height < 1 || config.Width*config.Height > most {
		return Photo{}, fmt.Errorf("%w: %d × %d points are too many", ErrNoPhoto, config.Width, config.Height)
	}
	needs := int64(config.Width) * int64(config.Height) * pointBytes(config.ColorModel)
	if needs > unpackedBytes {
		return Photo{}, fmt.Errorf("%w: %d × %d points of this depth are too many", ErrNoPhoto, config.Width, config.Height)
	}
	if err := unpacking.Acquire(ctx, needs); err != nil {
		return Photo{}, err
	}
	defer unpacking.Release(needs)
	picture, _, err := image.Decode(bytes.NewReader(file))
	if err != nil {
		return Photo{}, fmt.Errorf("%w: it is cut off or damaged", ErrNoPhoto)
	}
	full := upright(scaled(picture, photoEdge), orientation(file))
	out := Photo{Width: full.Bounds().Dx(), Height: full.Bounds().Dy()}
	if out.Full, err = encode(full); err != nil {
		return Photo{}, err
	}
	out.Thumbnail, err = encode(scaled(full, thumbnailEdge))
	return out, err
}

func encode(m image.Image) ([]byte, error) {
	var b bytes.Buffer
	err := jpeg.Encode(&b, m, &jpeg.Options{Quality: photoQuality})
	return b.Bytes(), err
}

// scaled makes the longer edge at most so many points, on white where the picture is transparent.
func scaled(m image.Image, edge int) *image.RGBA {
	w, h := m.Bounds().Dx(), m.Bounds().Dy()
	if longer := max(w, h); longer > edge {
		w, h = max(1, w*edge/longer), max(1, h*edge/longer)
	}
	to := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(to, to.Bounds(), image.White, image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(to, to.Bounds(), m, m.Bounds(), draw.Over, nil)
	return to
}

// upright turns a picture as the EXIF standard numbers its orientations, 1 to 8; 1 is upright.
func upright(m *image.RGBA, orientation int) *image.RGBA {
	w, h := m.Bounds().Dx(), m.Bounds().Dy()
	at := map[int]func(x, y int) (int, int){
		2: func(x, y int) (int, int) { return w - 1 - x, y },
		3: func(x, y int) (int, int) { return w - 1 - x, h - 1 - y },
		4: func(x, y int) (int, int) { return x, h - 1 - y },
		5: func(x, y int) (int, int) { return y, x },
		6: func(x, y int) (int, int) { return h - 1 - y, x },
		7: func(x, y int) (int, int) { return h - 1 - y, w - 1 - x },
		8: func(x, y int) (int, int) { return y, w - 1 - x },
	}[orientation]
	if at == nil {
		return m
	}
	turned := image.Rect(0, 0, w, h)
	if orientation >= 5 {
		turned = image.Rect(0, 0, h, w)
	}
	to := image.NewRGBA(turned)
	for y := range h {
		for x := range w {
			tx, ty := at(x, y)
			to.SetRGBA(tx, ty, m.RGBAAt(x, y))
		}
	}
	return to
}

// orientation reads the EXIF tag 0x0112 of a JPEG; 1 when there is none.
func orientation(file []byte) int {
	const upright = 1
	for at := 2; at+4 <= len(file) && file[at] == 0xFF; {
		length := int(binary.BigEndian.Uint16(file[at+2:]))
		segment := file[at+4 : min(len(file), at+2+max(2, length))]
		if file[at+1] == 0xE1 && bytes.HasPrefix(segment, []byte("Exif\x00\x00")) {
			return orientationOf(segment[6:], upright)
		}
		if file[at+1] == 0xDA { // the picture itself begins
			break
		}
		at += 2 + max(2, length)
	}
	return upright
}

func orientationOf(tiff []byte, otherwise int) int {
	if len(tiff) < 8 {
		return otherwise
	}
	var order binary.ByteOrder = binary.BigEndian
	if tiff[0] == 'I' {
		order = binary.LittleEndian
	}
	at := int(order.Uint32(tiff[4:]))
	if at < 8 || at+2 > len(tiff) {
		return otherwise
	}
	for n := range int(order.Uint16(tiff[at:])) {
		entry := at + 2 + 12*n
		if entry+12 > len(tiff) {
			break
		}
		if order.Uint16(tiff[entry:]) == 0x0112 {
			return int(order.Uint16(tiff[entry+8:]))
		}
	}
	return otherwise
}
