package formats

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"runtime"
	"runtime/debug"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// peak is how many MB were held at most while something was done.
func peak(do func()) float64 {
	held := func() uint64 {
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return m.HeapAlloc
	}
	defer debug.SetGCPercent(debug.SetGCPercent(5)) // so that hardly anything counts that only waits to be cleaned up
	runtime.GC()
	before, most := held(), uint64(0)
	stop := make(chan struct{})
	var watching sync.WaitGroup
	watching.Go(func() {
		for tick := time.Tick(2 * time.Millisecond); ; {
			select {
			case <-stop:
				return
			case <-tick:
				most = max(most, held())
			}
		}
	})
	do()
	close(stop)
	watching.Wait()
	return (float64(most) - float64(before)) / (1 << 20)
}

func workbookOf(t *testing.T, rows, columns int) []byte {
	t.Helper()
	header, cells := make([]string, columns), make([][]string, rows)
	for c := range header {
		header[c] = fmt.Sprint("column ", c)
	}
	for r := range cells {
		for c := range columns {
			cells[r] = append(cells[r], fmt.Sprint(r*7+c))
		}
	}
	var file bytes.Buffer
	require.NoError(t, WriteWorkbook(&file, "Numbers", header, cells))
	return file.Bytes()
}

// A large sheet of numbers is read within what was reckoned for it, and one that is larger is refused by its size alone.
func TestAWorkbookTakesWhatIsReckonedForIt(t *testing.T) {
	file := workbookOf(t, 5000, 50)
	needs, err := unpackedNeeds(file)
	require.NoError(t, err)
	var grid *Grid
	used := peak(func() { grid, err = OpenGrid(file, "") })
	require.NoError(t, err)
	assert.Len(t, grid.lines, 5001)
	assert.Equal(t, gridCell{"35042", true}, grid.lines[5000].cells[49])
	assert.Less(t, used, float64(needs)/(1<<20), "MB")

	_, err = OpenGrid(workbookOf(t, MaxTableRows+1, 3), "")
	assert.EqualError(t, err, "the file has more than 10000 rows")
	_, err = OpenGrid([]byte(strings.Repeat(strings.Repeat("a,", 400)+"a\n", 2000)), "")
	assert.ErrorContains(t, err, "500000 cells")
}

// What is unpacked at once stays below its bound: the next one waits, and gives up when nobody waits for it any more.
func TestFilesWaitForRoom(t *testing.T) {
	var bomb bytes.Buffer
	z := zip.NewWriter(&bomb)
	for _, name := range []string{"[Content_Types].xml", "xl/worksheets/sheet1.xml"} {
		f, err := z.Create(name)
		require.NoError(t, err)
		_, err = f.Write(make([]byte, maxUnpacked/2+1))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	_, err := RoomFor(context.Background(), bomb.Bytes())
	assert.ErrorContains(t, err, "unpacked this is larger than 32 MB")

	large := bytes.Repeat([]byte("a,"), MaxTableBytes/2)
	var rooms []func()
	for range unpackedBytes / (MaxTableBytes * textTimes) {
		done, err := RoomFor(context.Background(), large)
		require.NoError(t, err)
		rooms = append(rooms, done)
	}
	gone, leave := context.WithCancel(context.Background())
	leave()
	_, err = RoomFor(gone, large)
	assert.ErrorIs(t, err, context.Canceled)
	for _, done := range rooms {
		done()
	}
	done, err := RoomFor(context.Background(), large)
	require.NoError(t, err, "there is room again")
	done()
}
