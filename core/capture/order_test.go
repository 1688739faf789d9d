package capture

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestOrder(t *testing.T) {
	for name, want := range map[string][]string{
		"numbers count, digits do not":       {"step 1.png", "step 2.png", "step 10.png", "step 100.png"},
		"leading zeros do not count":         {"007.png", "8.png", "0009.png", "10.png"},
		"case and marks between words fold":  {"Step_1.png", "step-2.png", "STEP 3.png", "step.4.png"},
		"copies follow their original":       {"shot.png", "shot (1).png", "shot (2).png", "shot (10).png", "shot 2.png"},
		"timestamps in names":                {"2026-03-02 09.15.59.png", "2026-03-02 10.01.00.png", "2026-03-10 08.00.00.png"},
		"several numbers, the first decides": {"1 of 10.png", "2 of 3.png", "2 of 10.png", "10 of 10.png"},
		"numbers too long for an integer":    {"99999999999999999999998.png", "99999999999999999999999.png", "100000000000000000000000.png"},
		"letters of any script":              {"étape 2.png", "étape 12.png", "шаг 3.png", "шаг 21.png"},
		"numbers before words":               {"2.png", "10.png", "a.png"},
		"the extension does not count":       {"1.png", "2.jpg", "3.png"},
		"empty name and bare extension":      {"", "a.png"},
	} {
		t.Run(name, func(t *testing.T) {
			for range 20 {
				shuffled := append([]string(nil), want...)
				rand.Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
				files := make([]File, len(shuffled))
				for i, n := range shuffled {
					files[i].Name = n
				}
				got := []string{}
				for _, i := range Order(files) {
					got = append(got, files[i].Name)
				}
				assert.Equal(t, want, got)
			}
		})
	}
}

func TestOrderOfEqualNames(t *testing.T) {
	at := func(s int) time.Time { return time.Unix(int64(s), 0) }
	assert.Equal(t, []int{1, 2, 0}, Order([]File{{"a.png", at(9)}, {"a.png", at(3)}, {"a.png", at(5)}}), "by time taken")
	assert.Equal(t, []int{0, 1, 2}, Order([]File{{Name: "a.png"}, {"a.png", at(3)}, {Name: "A.png"}}), "else as they came in")
}
