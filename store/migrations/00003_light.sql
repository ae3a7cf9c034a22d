-- +goose Up
ALTER TABLE reference ADD COLUMN IF NOT EXISTS light JSON NULL COMMENT 'how the light of its photo is undone; none as the camera wrote it';
ALTER TABLE pin
  ADD COLUMN IF NOT EXISTS sample INT NOT NULL DEFAULT 0 COMMENT 'which bait of a bag; 0 where it is the only one',
  ADD COLUMN IF NOT EXISTS aside BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'of a bait that is not typical of its bag';
ALTER TABLE reference ADD COLUMN IF NOT EXISTS px_per_mm DOUBLE NOT NULL DEFAULT 0 COMMENT 'scale of its photo; 0 where nobody said';
