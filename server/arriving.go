package server

import "sync"

// mostArriving is how many large files of one person, or from one address, come in at the same time.
const mostArriving = 12

// arriving counts the large files that come in, by whose they are.
type arriving struct {
	mu  sync.Mutex
	now map[string]int
}

// enter has one more come in; false where as many do as may. Leave is called when it is done with.
func (a *arriving) enter(whose string) (leave func(), ok bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.now == nil {
		a.now = map[string]int{}
	}
	if a.now[whose] >= mostArriving {
		return nil, false
	}
	a.now[whose]++
	return func() {
		a.mu.Lock()
		defer a.mu.Unlock()
		if a.now[whose]--; a.now[whose] == 0 {
			delete(a.now, whose)
		}
	}, true
}
