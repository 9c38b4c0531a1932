// Package screenshots has the pictures of the main views, for the help inside the
// program; they are taken anew by e2e/pictures.js.
package screenshots

import "embed"

// Files are the pictures.
//
//go:embed *.png
var Files embed.FS
