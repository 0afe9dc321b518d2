package formats

import (
	"bytes"
	"context"
	"encoding/binary"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// halves is a picture that is red on the left and blue on the right.
func halves(w, h int) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			m.Set(x, y, map[bool]color.Color{true: color.RGBA{220, 0, 0, 255}, false: color.RGBA{0, 0, 220, 255}}[x < w/2])
		}
	}
	return m
}

type byteOrder interface {
	binary.ByteOrder
	binary.AppendByteOrder
}

// withEXIF puts an EXIF segment with an orientation and a place into a JPEG, as cameras do (TIFF 6.0, tag 0x0112).
func withEXIF(t *testing.T, plain []byte, orientation uint16, order byteOrder) []byte {
	t.Helper()
	tiff := []byte("II*\x00")
	if order == byteOrder(binary.BigEndian) {
		tiff = []byte("MM\x00*")
	}
	tiff = order.AppendUint32(tiff, 8)
	tiff = order.AppendUint16(tiff, 1)
	tiff = order.AppendUint16(tiff, 0x0112)
	tiff = order.AppendUint16(tiff, 3)
	tiff = order.AppendUint32(tiff, 1)
	tiff = order.AppendUint16(tiff, orientation)
	tiff = append(tiff, 0, 0, 0, 0, 0, 0)
	tiff = append(tiff, "GPS 48.2 N 16.4 E"...)
	segment := append([]byte("Exif\x00\x00"), tiff...)
	head := binary.BigEndian.AppendUint16([]byte{0xFF, 0xD8, 0xFF, 0xE1}, uint16(len(segment)+2))
	return slices.Concat(head, segment, plain[2:])
}

func jpegOf(t *testing.T, m image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, m, nil))
	return b.Bytes()
}

// redAt says where the red half of a picture lies.
func redAt(t *testing.T, file []byte) string {
	t.Helper()
	m, err := jpeg.Decode(bytes.NewReader(file))
	require.NoError(t, err)
	w, h := m.Bounds().Dx(), m.Bounds().Dy()
	red := func(x, y int) bool {
		r, _, _, _ := m.At(x, y).RGBA()
		return r > 0x8000
	}
	switch left, right, top, bottom := red(w/8, h/2), red(w*7/8, h/2), red(w/2, h/8), red(w/2, h*7/8); {
	case left && !right:
		return "left"
	case right && !left:
		return "right"
	case top && !bottom:
		return "top"
	case bottom && !top:
		return "bottom"
	}
	return "nowhere"
}

func TestPhotosAreUprightSmallAndBare(t *testing.T) {
	plain := jpegOf(t, halves(80, 40))
	// Which side the first column is on, by the orientations of the EXIF standard (JEITA CP-3451, tag Orientation).
	for orientation, side := range map[uint16]string{1: "left", 2: "right", 3: "right", 4: "left", 5: "top", 6: "top", 7: "bottom",
		8: "bottom", 9: "left"} {
		for _, order := range []byteOrder{binary.LittleEndian, binary.BigEndian} {
			got, err := ReadPhoto(context.Background(), withEXIF(t, plain, orientation, order), PhotoPixels)
			require.NoError(t, err)
			assert.Equal(t, side, redAt(t, got.Full), "orientation %d", orientation)
			assert.Equal(t, orientation >= 5 && orientation <= 8, got.Height > got.Width)
			assert.NotContains(t, string(got.Full), "GPS", "the place is not kept")
			assert.NotContains(t, string(got.Full), "Exif")
		}
	}
	var transparent bytes.Buffer
	require.NoError(t, png.Encode(&transparent, halves(3000, 1500)))
	large, err := ReadPhoto(context.Background(), transparent.Bytes(), PhotoPixels)
	require.NoError(t, err)
	assert.Equal(t, []int{1600, 800}, []int{large.Width, large.Height})
	thumb, err := jpeg.DecodeConfig(bytes.NewReader(large.Thumbnail))
	require.NoError(t, err)
	assert.Equal(t, []int{240, 120}, []int{thumb.Width, thumb.Height})
}

func TestWhatIsNoPhotograph(t *testing.T) {
	var animated, bomb bytes.Buffer
	require.NoError(t, gif.Encode(&animated, halves(8, 8), nil))
	require.NoError(t, png.Encode(&bomb, image.NewGray(image.Rect(0, 0, 9000, 9000))))
	whole := jpegOf(t, halves(80, 40))
	for name, tt := range map[string]struct {
		file []byte
		want string
	}{
		"nothing":        {nil, "is not a JPEG or PNG"},
		"a page":         {[]byte("<html><script>alert(1)</script>"), "is not a JPEG or PNG"},
		"another format": {animated.Bytes(), "is not a JPEG or PNG"},
		"cut off":        {whole[:len(whole)-40], "cut off or damaged"},
		"too many bytes": {[]byte(strings.Repeat("x", MaxPhotoBytes+1)), "at most 12 MB"},
		"a bomb":         {bomb.Bytes(), "9000 × 9000 points are too many"},
	} {
		_, err := ReadPhoto(context.Background(), tt.file, PhotoPixels)
		require.ErrorIs(t, err, ErrNoPhoto, name)
		assert.ErrorContains(t, err, tt.want, name)
	}
	// A camera's note that is itself damaged does not spoil the picture.
	for _, cut := range []int{9, 14, 20, 25} {
		damaged := withEXIF(t, whole, 6, binary.LittleEndian)
		damaged[cut] ^= 0xFF
		_, _ = ReadPhoto(context.Background(), damaged, PhotoPixels)
	}
}

// However many large photographs come at once, they are unpacked as memory allows; one that alone would take too much is refused.
func TestManyPhotographsWaitForMemory(t *testing.T) {
	var file, deep bytes.Buffer
	encoder := png.Encoder{CompressionLevel: png.BestSpeed}
	require.NoError(t, encoder.Encode(&file, image.NewNRGBA(image.Rect(0, 0, 5000, 4000)))) // 80 MB unpacked
	require.NoError(t, encoder.Encode(&deep, image.NewNRGBA64(image.Rect(0, 0, 6000, 4000))))
	_, err := ReadPhoto(context.Background(), deep.Bytes(), PhotoPixels)
	require.ErrorIs(t, err, ErrNoPhoto, "eight bytes a point")

	held := func() uint64 {
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return m.HeapInuse
	}
	runtime.GC()
	before, most := held(), uint64(0)
	done := make(chan struct{})
	var all sync.WaitGroup
	for range 12 {
		all.Go(func() {
			_, err := ReadPhoto(context.Background(), file.Bytes(), PhotoPixels)
			assert.NoError(t, err)
		})
	}
	go func() { all.Wait(); close(done) }()
	for waiting := true; waiting; {
		select {
		case <-done:
			waiting = false
		default:
			runtime.Gosched()
			most = max(most, held())
		}
	}
	assert.Less(t, (most-before)>>20, uint64(450), "MB: two at once, and what is not cleaned up yet; a dozen would take a gigabyte")

	ended, end := context.WithCancel(context.Background())
	require.NoError(t, unpacking.Acquire(context.Background(), unpackedBytes))
	defer unpacking.Release(unpackedBytes)
	end()
	_, err = ReadPhoto(ended, file.Bytes(), PhotoPixels)
	assert.ErrorIs(t, err, context.Canceled, "who has gone waits no longer")
}
