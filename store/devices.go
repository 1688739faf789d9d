package store

import (
	"context"
	"time"

	"github.com/google/uuid"
)

// Device is a recorder outside the browser that may bring shots in for its owner. Of its token only a
// hash is kept.
type Device struct {
	ID        string
	Owner     string
	Name      string
	TokenHash string
	MadeAt    time.Time
	UsedAt    *time.Time
	RevokedAt *time.Time
}

// AddDevice records a device.
func (s *Identity) AddDevice(ctx context.Context, owner, name, tokenHash string) (Device, error) {
	d := Device{ID: uuid.NewString(), Owner: owner, Name: name, TokenHash: tokenHash, MadeAt: s.now()}
	return d, s.on(ctx).Create(&d).Error
}

// Devices are an account's devices that may still bring shots in.
func (s *Identity) Devices(ctx context.Context, owner string) ([]Device, error) {
	var all []Device
	err := s.on(ctx).Where("owner = ? AND revoked_at IS NULL", owner).Order("made_at").Find(&all).Error
	return all, err
}

// DeviceWith is the device that a token belongs to; a revoked one is not found. It is marked as used now.
func (s *Identity) DeviceWith(ctx context.Context, tokenHash string) (Device, error) {
	var d Device
	if err := s.on(ctx).Where("token_hash = ? AND revoked_at IS NULL", tokenHash).Take(&d).Error; err != nil {
		return d, found(err)
	}
	return d, s.on(ctx).Table("devices").Where("id = ?", d.ID).Update("used_at", s.now()).Error
}

// RevokeDevice takes a device's right away, at once and for good.
func (s *Identity) RevokeDevice(ctx context.Context, id, owner string) error {
	res := s.on(ctx).Table("devices").Where("id = ? AND owner = ? AND revoked_at IS NULL", id, owner).Update("revoked_at", s.now())
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}
