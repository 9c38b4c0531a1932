package web_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A month's weeks begin on the day weeks begin on (CLDR: Sunday in the United States, Monday in Europe).
func TestWeeksBeginWhereTheStudioIs(t *testing.T) {
	s := open(t)
	heads := regexp.MustCompile(`<th scope="col">\s*(\pL+)`)
	for language, first := range map[string]string{"en": "Mon", "en-US": "Sun", "de": "Mo"} {
		_, n, err := s.Setup.Edit(t.Context(), map[string]string{"language": language})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		found := heads.FindStringSubmatch(s.get("/days/month"))
		require.NotNil(t, found, language)
		assert.Equal(t, first, found[1], language)
	}
}
