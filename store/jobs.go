package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// JobState says how far a job is.
type JobState string

// The states of a job.
const (
	Waiting   JobState = "waiting"
	Working   JobState = "working"
	Done      JobState = "done"
	Failed    JobState = "failed"
	Cancelled JobState = "cancelled"
)

// Job is a piece of background work.
type Job struct {
	ID         string
	Kind       string
	Payload    string
	State      JobState
	Done       int
	Total      int
	Attempts   int
	Error      string
	Result     string
	Owner      string
	CreatedAt  time.Time
	AliveAt    *time.Time
	FinishedAt *time.Time
}

// mostAttempts bounds how often a job is begun: one that takes the server down is not tried for ever.
const mostAttempts = 3

// AddJob puts a job in the queue.
func (s *Store) AddJob(ctx context.Context, kind, payload, owner string) (Job, error) {
	j := Job{ID: uuid.NewString(), Kind: kind, Payload: payload, State: Waiting, Owner: owner, CreatedAt: s.now()}
	if err := s.db.WithContext(ctx).Create(&j).Error; err != nil {
		return j, fmt.Errorf("queueing a %s job: %w", kind, err)
	}
	return j, nil
}

// Job is the job with an id.
func (s *Store) Job(ctx context.Context, id string) (Job, error) {
	var j Job
	err := s.db.WithContext(ctx).Where("id = ?", id).Take(&j).Error
	return j, found(err)
}

// ClaimJob takes the oldest job of some kinds that waits, or whose worker has not been heard of for the given
// time; ErrNotFound where there is none. No two workers get the same job.
func (s *Store) ClaimJob(ctx context.Context, silent time.Duration, kinds ...string) (Job, error) {
	var j Job
	err := s.within(ctx, func(tx *gorm.DB) error {
		now := s.now()
		j = Job{}
		err := tx.Clauses(clause.Locking{Strength: "UPDATE", Options: "SKIP LOCKED"}).
			Where("kind IN ?", kinds).Where("state = ? OR (state = ? AND alive_at < ?)", Waiting, Working, now.Add(-silent)).
			Order("created_at").Limit(1).Take(&j).Error
		if err != nil {
			return found(err)
		}
		if j.Attempts >= mostAttempts {
			j.State = Failed
			return tx.Table("jobs").Where("id = ?", j.ID).Updates(map[string]any{
				"state": Failed, "finished_at": now, "error": "The work was begun several times and never ended. Try again.",
			}).Error
		}
		j.State, j.AliveAt, j.Attempts = Working, &now, j.Attempts+1
		return tx.Table("jobs").Where("id = ?", j.ID).Updates(map[string]any{
			"state": Working, "alive_at": now, "attempts": j.Attempts,
		}).Error
	})
	return j, err
}

// Progress records how far a job is; false says that it was cancelled meanwhile.
func (s *Store) Progress(ctx context.Context, id string, done, total int) (bool, error) {
	res := s.db.WithContext(ctx).Table("jobs").Where("id = ? AND state = ?", id, Working).
		Updates(map[string]any{"done": done, "total": total, "alive_at": s.now()})
	return res.RowsAffected > 0, res.Error
}

// FinishJob ends a job, unless it was cancelled meanwhile.
func (s *Store) FinishJob(ctx context.Context, id, result, failure string) error {
	state := Done
	if failure != "" {
		state = Failed
	}
	if r := []rune(failure); len(r) > 500 {
		failure = string(r[:500])
	}
	return s.db.WithContext(ctx).Table("jobs").Where("id = ? AND state = ?", id, Working).
		Updates(map[string]any{"state": state, "result": result, "error": failure, "finished_at": s.now()}).Error
}

// ReleaseJob puts a begun job back, as when the server stops.
func (s *Store) ReleaseJob(ctx context.Context, id string) error {
	return s.db.WithContext(ctx).Table("jobs").Where("id = ? AND state = ?", id, Working).
		Updates(map[string]any{"state": Waiting, "attempts": gorm.Expr("attempts - 1")}).Error
}

// CancelJob cancels a job that has not ended.
func (s *Store) CancelJob(ctx context.Context, id string) error {
	return s.db.WithContext(ctx).Table("jobs").Where("id = ? AND state IN ?", id, []JobState{Waiting, Working}).
		Updates(map[string]any{"state": Cancelled, "finished_at": s.now()}).Error
}

// DropJobs forgets jobs that ended before a time and returns the results they had.
func (s *Store) DropJobs(ctx context.Context, before time.Time) ([]string, error) {
	var results []string
	db := s.db.WithContext(ctx)
	if err := db.Table("jobs").Where("finished_at < ? AND result <> ''", before).Pluck("result", &results).Error; err != nil {
		return nil, fmt.Errorf("dropping old jobs: %w", err)
	}
	return results, db.Exec("DELETE FROM jobs WHERE finished_at < ?", before).Error
}
