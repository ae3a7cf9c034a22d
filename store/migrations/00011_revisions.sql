-- +goose Up
CREATE TABLE IF NOT EXISTS material_revision (
  shop_id BIGINT UNSIGNED NOT NULL,
  uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT NOT NULL COMMENT 'of the material, when it got these properties',
  properties JSON NOT NULL,
  since DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid, revision),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'what each material was, so that what was poured with it stays what it was';
INSERT IGNORE INTO material_revision (shop_id, uid, revision, properties, since)
  SELECT shop_id, uid, revision, properties, created_at FROM material;
ALTER TABLE once ADD COLUMN IF NOT EXISTS device VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '' COMMENT 'who did it';
ALTER TABLE reference CHANGE COLUMN IF EXISTS census flake JSON NULL COMMENT 'the flake that was counted on its photo';
