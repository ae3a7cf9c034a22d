-- +goose Up
ALTER TABLE recipe ADD INDEX IF NOT EXISTS near (shop_id, near_l, near_a, near_b, uid);
