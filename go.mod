module jevvo

go 1.26

require (
	github.com/stretchr/testify v1.12.1 // indirect
	gonum.org/v1/gonum v0.17.0 // indirect
)
