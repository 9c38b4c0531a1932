package picture

import "context"

// Reduced unpacks a picture as a desk does once it is its turn.
func Reduced(ctx context.Context, data []byte) (Picture, error) {
	k, _, err := kindOf(data)
	if err != nil {
		return Picture{}, err
	}
	return k.reduced(ctx, data, smallSide)
}
