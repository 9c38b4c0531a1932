package msg

import "context"

type langKey struct{}

// WithLang returns a context of a request that is answered in a language.
func WithLang(ctx context.Context, l Lang) context.Context {
	return context.WithValue(ctx, langKey{}, l)
}

// LangOf is the language a request is answered in, English where none was said.
func LangOf(ctx context.Context) Lang {
	if l, ok := ctx.Value(langKey{}).(Lang); ok {
		return l
	}
	return English
}
