-- +goose Up
ALTER TABLE pin ADD COLUMN IF NOT EXISTS stroke JSON NULL COMMENT 'further middles of a painted area, px; none for a disc';
