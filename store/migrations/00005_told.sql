-- +goose Up
ALTER TABLE reference MODIFY photo_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'none where it was told, not photographed';
