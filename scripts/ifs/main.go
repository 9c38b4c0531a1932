// Ifs rewrites the switches without a tag in Go files into chains of ifs, in
// place. Coverage counts the conditions of an if and not those of a case, so
// mutants in them are never tried: the copy that scripts/mutants works on has
// ifs instead.
package main

import (
	"bytes"
	"fmt"
	"go/ast"
	"go/format"
	"go/parser"
	"go/token"
	"os"
)

func main() {
	for _, path := range os.Args[1:] {
		if err := rewrite(path); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
	}
}

func rewrite(path string) error {
	source, err := os.ReadFile(path)
	if err != nil || bytes.Contains(source, []byte("\n//go:")) || bytes.HasPrefix(source, []byte("//go:")) {
		return err // what it says to the compiler stands in comments
	}
	fset := token.NewFileSet()
	file, err := parser.ParseFile(fset, path, source, 0) // other comments are not needed by a mutant
	if err != nil {
		return err
	}
	ast.Inspect(file, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.BlockStmt:
			replace(n.List)
		case *ast.CaseClause:
			replace(n.Body)
		case *ast.CommClause:
			replace(n.Body)
		}
		return true
	})
	var out bytes.Buffer
	if err := format.Node(&out, fset, file); err != nil {
		return err
	}
	return os.WriteFile(path, out.Bytes(), 0o600)
}

func replace(list []ast.Stmt) {
	for i, s := range list {
		if sw, ok := s.(*ast.SwitchStmt); ok && sw.Tag == nil && plain(sw.Body) {
			if chain := chained(sw); chain != nil {
				list[i] = chain
			}
		}
	}
}

// plain reports whether nothing in the body leaves the switch by name of being
// one.
func plain(body *ast.BlockStmt) bool {
	ok := true
	ast.Inspect(body, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.ForStmt, *ast.RangeStmt, *ast.SelectStmt, *ast.FuncLit:
			return false // a break in there is its own
		case *ast.BranchStmt:
			if n.Label == nil && (n.Tok == token.BREAK || n.Tok == token.FALLTHROUGH) {
				ok = false
			}
		}
		return ok
	})
	return ok
}

// chained is the switch as ifs; nil for one that has only a default.
func chained(sw *ast.SwitchStmt) ast.Stmt {
	var first, last *ast.IfStmt
	var otherwise *ast.BlockStmt
	for _, s := range sw.Body.List {
		c := s.(*ast.CaseClause)
		body := &ast.BlockStmt{List: c.Body}
		if c.List == nil {
			otherwise = body
			continue
		}
		cond := c.List[0]
		for _, more := range c.List[1:] {
			cond = &ast.BinaryExpr{X: cond, Op: token.LOR, Y: more}
		}
		next := &ast.IfStmt{Cond: cond, Body: body}
		if first == nil {
			first, next.Init = next, sw.Init
		} else {
			last.Else = next
		}
		last = next
	}
	if first == nil {
		return nil
	}
	if otherwise != nil {
		last.Else = otherwise
	}
	return first
}
