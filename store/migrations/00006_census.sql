-- +goose Up
ALTER TABLE reference ADD COLUMN IF NOT EXISTS census JSON NULL COMMENT 'the flake that was found and corrected by hand; none where nobody counted';
