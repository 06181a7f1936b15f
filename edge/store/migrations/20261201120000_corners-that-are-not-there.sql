-- Corners that are not there are allowed in so many words: SQLite before 3.45 took json_valid(NULL) for false, so that
-- its integrity check found every workshop with pictures of printed sheets damaged.
ALTER TABLE picture ADD COLUMN corners_px TEXT CHECK (corners_px IS NULL OR json_valid(corners_px));
UPDATE picture SET corners_px = corners;
ALTER TABLE picture DROP COLUMN corners;
ALTER TABLE picture RENAME COLUMN corners_px TO corners;
