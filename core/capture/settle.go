package capture

import "time"

// Settle watches a screen and tells when it has changed and then stayed the same for a while: the time to
// take a shot. Look is asked at every sample; times only need to grow.
type Settle struct {
	Quiet time.Duration // how long the screen must stay the same

	last    uint64
	taken   uint64
	changed time.Time
	started bool
}

// Look is told a fingerprint of what is seen now and says whether a shot is due. The first look only
// remembers; a screen that changed and came back to what was taken last is not taken again.
func (s *Settle) Look(now time.Time, seen uint64) bool {
	if !s.started {
		s.started, s.last, s.taken, s.changed = true, seen, seen, now
		return false
	}
	if seen != s.last {
		s.last, s.changed = seen, now
		return false
	}
	if seen == s.taken || now.Sub(s.changed) < s.Quiet {
		return false
	}
	s.taken = seen
	return true
}
