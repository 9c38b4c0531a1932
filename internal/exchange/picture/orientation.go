package picture

import (
	"bytes"
	"time"

	"github.com/bep/imagemeta"
)

// Bounds of the metadata that is looked at: one tag is wanted, and a camera
// writes it within the first segment of at most 64 KB.
const (
	metaBytes = 256 << 10
	metaTags  = 256
	metaTime  = time.Second
)

// orientation is the EXIF tag of how the camera was held; 1 when there is none
// or when it cannot be read.
func orientation(data []byte) int {
	held := 1
	_, err := imagemeta.Decode(imagemeta.Options{
		R:           bytes.NewReader(data[:min(len(data), metaBytes)]),
		ImageFormat: imagemeta.JPEG,
		Sources:     imagemeta.EXIF,
		ShouldHandleTag: func(tag imagemeta.TagInfo) bool {
			return tag.Tag == "Orientation" && tag.Namespace == "IFD0"
		},
		HandleTag: func(tag imagemeta.TagInfo) error {
			if v, ok := tag.Value.(uint16); ok {
				held = int(v)
			}
			return imagemeta.ErrStopWalking
		},
		LimitNumTags: metaTags,
		LimitTagSize: 1024,
		Timeout:      metaTime,
	})
	if err != nil {
		return 1
	}
	return held
}
