-- +goose Up
ALTER TABLE pin
  ADD COLUMN IF NOT EXISTS state VARCHAR(8) NOT NULL DEFAULT 'rested' COMMENT 'how old the plastic was when it was read: raw, hot, fresh, rested',
  ADD COLUMN IF NOT EXISTS mine BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'differs on purpose, so it stays out of what is scored';
