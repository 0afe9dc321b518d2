package formats

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"

	"golang.org/x/sync/semaphore"
)

// What files take in memory while they are read.
const (
	unpackedBytes = 160 << 20 // of all that are unpacked at once: photographs, tables, workbooks and archives

	maxUnpacked   = 32 << 20 // of what lies in a workbook
	unpackedTimes = 4        // so many times that a workbook takes, measured with texts and with numbers
	textTimes     = 8        // and a text its own length, with the cells that are made of it
)

// unpacking is the memory in which files are unpacked; one waits until there is room for it.
var unpacking = semaphore.NewWeighted(unpackedBytes)

// RoomFor waits, while ctx does, until there is room for what a table, a workbook or an archive holds once it is unpacked. Done gives the
// room back. What would take more than is ever there is refused with a Fault.
func RoomFor(ctx context.Context, content []byte) (done func(), err error) {
	needs := int64(len(content)) * textTimes
	if IsZip(content) {
		if needs, err = unpackedNeeds(content); err != nil {
			return nil, err
		}
	}
	needs = min(needs, unpackedBytes) // what is longer is refused by its reader
	if err := unpacking.Acquire(ctx, needs); err != nil {
		return nil, err
	}
	return func() { unpacking.Release(needs) }, nil
}

// unpackedNeeds is what an archive takes once it is unpacked. Of each file in it no more comes out than the archive's directory says.
func unpackedNeeds(content []byte) (int64, error) {
	z, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		return int64(len(content)), nil // its reader says what is the matter
	}
	needs := int64(0)
	if IsRoster(content) {
		for _, f := range z.File {
			if f.UncompressedSize64 <= maxUnpackedFile { // a larger one is not read
				needs += int64(f.UncompressedSize64) * textTimes
			}
		}
		return needs, nil
	}
	for _, f := range z.File {
		if needs += int64(min(f.UncompressedSize64, maxUnpacked+1)) * unpackedTimes; needs > maxUnpacked*unpackedTimes {
			return 0, Fault{Message: fmt.Sprintf("unpacked this is larger than %d MB; leave out the sheets that are not needed", maxUnpacked>>20)}
		}
	}
	return needs, nil
}
