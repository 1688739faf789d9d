package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
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
	Token      int64      // of whoever works on it: what an older one writes is not taken
	NotBefore  *time.Time // of one that is tried again later
	Error      string
	Result     string // the key of the file that was made
	Bytes      int64  // of that file
	Owner      string
	DocumentID *string // whose delivery it is; nil of other work
	CreatedAt  time.Time
	AliveAt    *time.Time
	FinishedAt *time.Time
	OwnerName  string `gorm:"->;-:migration"` // where it was joined in
	TakenBy    string `gorm:"->;-:migration"` // the names of those who have taken the file, where they were joined in
}

// mostAttempts bounds how often a job is begun: one that has taken the server down twice is set aside.
const mostAttempts = 2

// AddJob puts a job in the queue: its kind, payload, owner and document are given.
func (s *Jobs) AddJob(ctx context.Context, j Job) (Job, error) {
	j.ID, j.State, j.CreatedAt = uuid.NewString(), Waiting, s.now()
	if err := s.on(ctx).Create(&j).Error; err != nil {
		return j, fmt.Errorf("queueing a %s job: %w", j.Kind, err)
	}
	return j, nil
}

// UnderWay is how many jobs of a kind of one owner wait or are worked on.
func (s *Jobs) UnderWay(ctx context.Context, kind, owner string) (int, error) {
	var n int64
	err := s.on(ctx).Table("jobs").Where("kind = ? AND state IN ? AND owner = ?", kind, []JobState{Waiting, Working}, owner).Count(&n).Error
	return int(n), err
}

// Job is the job with an id.
func (s *Jobs) Job(ctx context.Context, id string) (Job, error) {
	var j Job
	err := s.named(ctx).Where("jobs.id = ?", id).Take(&j).Error
	return j, found(err)
}

// takenBy are the names of those who have taken a delivery's file, in the order in which they did.
const takenBy = `COALESCE((SELECT GROUP_CONCAT(t.display_name ORDER BY d.at, t.display_name SEPARATOR ', ') FROM downloads d
	JOIN accounts t ON t.id = d.account_id WHERE d.job_id = jobs.id), '') AS taken_by`

// Taken keeps that an account has taken the file of a delivery.
func (s *Jobs) Taken(ctx context.Context, j Job, title, format, account string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if err := tx.Exec("INSERT INTO downloads (job_id, account_id, at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE at = VALUES(at)", j.ID, account, s.now()).Error; err != nil {
			return err
		}
		return s.trail.note(tx, Act{Act: ActDownloaded, AccountID: &account, DocumentID: j.DocumentID, About: title, Told: format})
	})
}

func (s *Jobs) named(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("jobs").Select("jobs.*, accounts.display_name AS owner_name, " + takenBy).Joins("JOIN accounts ON accounts.id = jobs.owner")
}

// Deliveries are the last deliveries of documents that are not deleted, and of folders, the last first: those of one
// owner, of one document, or of both; "" asks for all.
func (s *Jobs) Deliveries(ctx context.Context, owner, document string) ([]Job, error) {
	all := []Job{}
	q := s.named(ctx).Joins("LEFT JOIN documents ON documents.id = jobs.document_id").
		Where("jobs.kind = 'deliver' AND (jobs.document_id IS NULL OR documents.id IS NOT NULL AND documents.deleted_at IS NULL)")
	if owner != "" {
		q = q.Where("jobs.owner = ?", owner)
	}
	if document != "" {
		q = q.Where("jobs.document_id = ?", document)
	}
	err := q.Order("jobs.created_at DESC, jobs.id").Limit(mostDeliveries).Find(&all).Error
	return all, err
}

// JobsSince are the jobs of some kinds that wait or are worked on, and those that have ended since a time, whoever did
// so.
func (s *Jobs) JobsSince(ctx context.Context, since time.Time, kinds ...string) ([]Job, error) {
	var open, ended []Job
	err := s.named(ctx).Where("jobs.kind IN ? AND jobs.state IN ?", kinds, []JobState{Waiting, Working}).Order("jobs.created_at, jobs.id").Limit(500).Find(&open).Error
	if err == nil {
		err = s.named(ctx).Where("jobs.kind IN ? AND jobs.finished_at >= ?", kinds, since).Order("jobs.finished_at, jobs.id").Limit(500).Find(&ended).Error
	}
	return append(open, ended...), err
}

// Clock is the time by which rows are dated.
func (s *Jobs) Clock() time.Time { return s.now() }

// mostDeliveries bounds a list of deliveries.
const mostDeliveries = 200

// RetryJob queues a job again that failed or was cancelled, as if it had been asked for now.
func (s *Jobs) RetryJob(ctx context.Context, id string) error {
	return s.on(ctx).Table("jobs").Where("id = ? AND state IN ?", id, []JobState{Failed, Cancelled}).Updates(map[string]any{
		"state": Waiting, "attempts": 0, "token": newer, "not_before": nil, "done": 0, "total": 0, "error": "", "result": "", "created_at": s.now(), "alive_at": nil, "finished_at": nil,
	}).Error
}

// ClaimJob takes the oldest job of some kinds that waits, or whose worker has not been heard of for the given
// time; ErrNotFound where there is none. No two workers get the same job, and none locks what others look for: each
// kind is asked for by an index that begins with the very job.
func (s *Jobs) ClaimJob(ctx context.Context, silent time.Duration, kinds ...string) (Job, error) {
	for _, kind := range kinds {
		for _, state := range []JobState{Working, Waiting} {
			j, err := s.claim(ctx, kind, state, silent)
			if !errors.Is(err, ErrNotFound) {
				return j, err
			}
		}
	}
	return Job{}, ErrNotFound
}

func (s *Jobs) claim(ctx context.Context, kind string, state JobState, silent time.Duration) (Job, error) {
	var j Job
	work := func(ctx context.Context, tx *gorm.DB) error {
		j = Job{}
		q := tx.Clauses(clause.Locking{Strength: "UPDATE", Options: "SKIP LOCKED"}).Where("kind = ? AND state = ?", kind, state)
		if state == Working {
			q = q.Where("alive_at < "+dbNow+" - INTERVAL ? MICROSECOND", silent.Microseconds()).Order("alive_at")
		} else {
			q = q.Where("not_before IS NULL OR not_before <= " + dbNow).Order("created_at")
			if kind == PublishJob { // one at a time of each standing delivery
				q = q.Where("NOT EXISTS (SELECT 1 FROM jobs w WHERE w.kind = jobs.kind AND w.payload = jobs.payload AND w.state = ?)", Working)
			}
		}
		if err := q.Limit(1).Take(&j).Error; err != nil {
			return found(err)
		}
		if j.Attempts >= mostAttempts {
			j.State = Failed
			return tx.Table("jobs").Where("id = ?", j.ID).Updates(map[string]any{
				"state": Failed, "finished_at": s.now(), "token": newer,
				"error": "Raconte stopped twice while this was being made, so it is set aside. Nothing of yours was changed. Make the document smaller, or tell your administrator.",
			}).Error
		}
		j.State, j.Attempts, j.Token = Working, j.Attempts+1, j.Token+1
		return tx.Table("jobs").Where("id = ?", j.ID).Updates(map[string]any{
			"state": Working, "alive_at": gorm.Expr(dbNow), "attempts": j.Attempts, "token": j.Token,
		}).Error
	}
	err := s.within(ctx, work, &sql.TxOptions{Isolation: sql.LevelReadCommitted})
	return j, err
}

// dbNow is the time by the database's clock, by which leases run: those of servers differ.
const dbNow = "UTC_TIMESTAMP(3)"

// newer is a job's next token: whoever held it until now holds it no longer.
var newer = gorm.Expr("token + 1")

// held asks for a job that is worked on by whoever holds its newest token.
func (s *Jobs) held(ctx context.Context, j Job) *gorm.DB {
	return s.on(ctx).Table("jobs").Where("id = ? AND state = ? AND token = ?", j.ID, Working, j.Token)
}

// Progress records how far a job is, as a sign of life; false says that it is not this worker's any more: it was
// cancelled, or another has taken it.
func (s *Jobs) Progress(ctx context.Context, j Job, done, total int) (bool, error) {
	res := s.held(ctx, j).Updates(map[string]any{"done": done, "total": total, "alive_at": gorm.Expr(dbNow)})
	return res.RowsAffected > 0, res.Error
}

// Outcome is how a job ended.
type Outcome struct {
	Result  string // what it made
	Bytes   int64
	Payload string // what it was told, without what is not to be kept; "" leaves it as it is
	Failure string // what people are told; "" where it is done
}

// FinishJob ends a job, unless it is another's by now.
func (s *Jobs) FinishJob(ctx context.Context, j Job, o Outcome) error {
	state := Done
	if o.Failure != "" {
		state = Failed
	}
	set := map[string]any{"state": state, "result": o.Result, "bytes": o.Bytes, "error": cut(o.Failure, 500), "finished_at": s.now()}
	if o.Payload != "" {
		set["payload"] = o.Payload
	}
	return s.held(ctx, j).Updates(set).Error
}

// ReleaseJob puts a begun job back, as when the server stops.
func (s *Jobs) ReleaseJob(ctx context.Context, j Job) error {
	return s.held(ctx, j).Updates(map[string]any{"state": Waiting, "attempts": gorm.Expr("attempts - 1")}).Error
}

// PostponeJob puts a begun job back for a while: it could not be done now, for a reason that people are told.
func (s *Jobs) PostponeJob(ctx context.Context, j Job, wait time.Duration, reason string) error {
	return s.held(ctx, j).Updates(map[string]any{
		"state": Waiting, "attempts": 0, "error": cut(reason, 500), "not_before": gorm.Expr(dbNow+" + INTERVAL ? MICROSECOND", wait.Microseconds()),
	}).Error
}

// CancelJob cancels a job that has not ended.
func (s *Jobs) CancelJob(ctx context.Context, id string) error {
	return s.on(ctx).Table("jobs").Where("id = ? AND state IN ?", id, []JobState{Waiting, Working}).
		Updates(map[string]any{"state": Cancelled, "finished_at": s.now(), "token": newer}).Error
}

// DropJobs forgets jobs that ended before a time.
func (s *Jobs) DropJobs(ctx context.Context, before time.Time) error {
	if err := s.deleteInParts(ctx, "jobs", "finished_at < ?", before); err != nil {
		return fmt.Errorf("dropping old jobs: %w", err)
	}
	return nil
}

// FilesOfJobs are those of some files of jobs that are in use: of jobs that are done, or may still be. A file is named
// by its job, and by the token of whoever made it.
func (s *Jobs) FilesOfJobs(ctx context.Context, names []string) (map[string]bool, error) {
	ids := make([]string, len(names))
	for i, name := range names {
		ids[i], _, _ = strings.Cut(name, ".")
	}
	var all []Job
	if err := s.on(ctx).Select("id", "state", "result").Where("id IN ? AND state IN ?", ids, []JobState{Done, Working, Waiting}).Find(&all).Error; err != nil {
		return nil, err
	}
	used := map[string]bool{}
	for i, name := range names {
		for _, j := range all {
			used[name] = used[name] || j.ID == ids[i] && (j.State != Done || strings.HasSuffix(j.Result, "/"+name))
		}
	}
	return used, nil
}

// EachPayload changes what jobs of some kinds are told, where change gives something else.
func (s *Jobs) EachPayload(ctx context.Context, kinds []string, change func(Job) (string, error)) error {
	for last := ""; ; {
		var some []Job
		if err := s.on(ctx).Select("id", "kind", "payload").Where("kind IN ? AND id > ?", kinds, last).Order("id").Limit(200).Find(&some).Error; err != nil || len(some) == 0 {
			return err
		}
		for _, j := range some {
			last = j.ID
			payload, err := change(j)
			if err == nil && payload != j.Payload {
				err = s.on(ctx).Table("jobs").Where("id = ? AND payload = ?", j.ID, j.Payload).Update("payload", payload).Error
			}
			if err != nil {
				return fmt.Errorf("rewriting what the job %s is told: %w", j.ID, err)
			}
		}
	}
}

// queueStandings queues the standing deliveries of a document, and of manuals that hold it: with what changes its valid
// revision, so that none is missed.
func (s *Jobs) queueStandings(tx *gorm.DB, document string) error {
	var all []Standing
	if err := tx.Where("NOT deleted AND (document_id = ? OR document_id IN (SELECT document_id FROM document_links WHERE to_id = ? AND how = 'holds'))", document, document).Find(&all).Error; err != nil {
		return err
	}
	for _, n := range all {
		if err := s.queue(tx, n); err != nil {
			return err
		}
	}
	return nil
}

// queue queues a standing delivery; one that waits already, for its place to be there again, waits no longer.
func (s *Jobs) queue(tx *gorm.DB, n Standing) error {
	waits := tx.Table("jobs").Where("kind = ? AND payload = ? AND state = ?", PublishJob, n.ID, Waiting).Update("not_before", nil)
	if waits.Error != nil || waits.RowsAffected > 0 {
		return waits.Error
	}
	j := Job{ID: uuid.NewString(), Kind: PublishJob, Payload: n.ID, State: Waiting, Owner: n.MadeBy, DocumentID: &n.DocumentID, CreatedAt: s.now()}
	return tx.Omit("owner_name", "taken_by").Create(&j).Error
}
