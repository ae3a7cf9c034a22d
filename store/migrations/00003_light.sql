-- +goose Up
ALTER TABLE reference ADD COLUMN IF NOT EXISTS light JSON NULL COMMENT 'how the light of its photo is undone; none as the camera wrote it';
