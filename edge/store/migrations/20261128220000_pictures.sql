-- Pictures of sheets. The picture itself is a file in the folder beside the workshop file whose name ends with
-- .pictures, named by its content (SHA-256), so that the same picture is kept once.
CREATE TABLE picture (
  id         INTEGER PRIMARY KEY,
  trial_id   INTEGER NOT NULL REFERENCES trial (id),
  content    TEXT NOT NULL CHECK (length(content) = 64),
  ending     TEXT NOT NULL CHECK (ending IN ('png', 'jpg', 'tif')),
  bytes      INTEGER NOT NULL CHECK (bytes > 0),
  sheet      INTEGER NOT NULL CHECK (sheet >= 1),
  source     TEXT NOT NULL CHECK (source IN ('scan', 'photo')),
  -- The trial of the anchor card that lies beside the sheet.
  card       INTEGER REFERENCES trial (id),
  -- It was drawn by a simulated device.
  simulated  INTEGER NOT NULL CHECK (simulated IN (0, 1)),
  -- Squares that are left out or taken all the same, and outlines that were moved, as JSON.
  adjusted   TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(adjusted)),
  -- Numbers of the squares that it could not tell when its readings were taken: nothing more is wanted of them.
  unread     TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(unread)),
  added_at   TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
  -- The file was deleted; what was read from it stays.
  deleted_at TEXT
) STRICT;

CREATE UNIQUE INDEX picture_once ON picture (trial_id, content) WHERE deleted_at IS NULL;

-- What a reading from a picture rests on: which picture, the half-width of its 95 % interval in ΔE00, and how far
-- the picture was calibrated.
ALTER TABLE reading ADD COLUMN picture TEXT;
ALTER TABLE reading ADD COLUMN uncertainty REAL CHECK (uncertainty > 0);
ALTER TABLE reading ADD COLUMN calibration TEXT
    CHECK (calibration IN ('calibrated', 'guessed', 'uncalibrated'));

CREATE TRIGGER picture_reading_is_whole BEFORE INSERT ON reading
WHEN (NEW.picture IS NULL) <> (NEW.uncertainty IS NULL)
  OR (NEW.picture IS NULL) <> (NEW.calibration IS NULL)
BEGIN SELECT RAISE (ABORT, 'a reading from a picture says which, how sure, and what it rests on'); END;

CREATE INDEX reading_by_picture ON reading (trial_id, picture) WHERE picture IS NOT NULL;
