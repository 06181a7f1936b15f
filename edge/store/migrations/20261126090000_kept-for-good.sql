-- Where each reading came from and what it was taken with; trials that are put away; what forms have
-- been answered; stored plans and deeds as versioned records; and the indices that 100,000 readings
-- need.

ALTER TABLE reading ADD COLUMN source TEXT NOT NULL DEFAULT 'meter'
    CHECK (source IN ('meter', 'typed', 'file', 'eye', 'scan', 'photo'));
-- 1 where a simulated device made it up: it is no measurement, and says so for ever.
ALTER TABLE reading ADD COLUMN simulated INTEGER NOT NULL DEFAULT 0 CHECK (simulated IN (0, 1));
-- What the meter said of itself; NULL where no meter was used.
ALTER TABLE reading ADD COLUMN geometry TEXT;
ALTER TABLE reading ADD COLUMN repeatability REAL CHECK (repeatability > 0);

-- What earlier releases told by the instrument's name alone. This once, a reading is changed: only
-- what is said about it, nothing of what was measured.
DROP TRIGGER reading_is_not_changed;
UPDATE reading SET source = 'typed' WHERE instrument = 'by hand';
UPDATE reading SET source = 'file' WHERE instrument = 'file';
UPDATE reading SET simulated = 1, geometry = 'd:8 included', repeatability = 0.03
    WHERE instrument = 'simulated meter';
CREATE TRIGGER reading_is_not_changed BEFORE UPDATE ON reading
BEGIN SELECT RAISE (ABORT, 'readings are never changed'); END;

-- A reading belongs to the trial of its swatch.
CREATE TRIGGER reading_is_of_its_swatch BEFORE INSERT ON reading
WHEN NEW.trial_id IS NOT (SELECT trial_id FROM swatch WHERE id = NEW.swatch_id)
BEGIN SELECT RAISE (ABORT, 'the swatch belongs to another trial'); END;

DROP INDEX reading_by_trial;
CREATE INDEX reading_by_trial ON reading (trial_id, state, swatch_id);
CREATE INDEX reading_in_order ON reading (trial_id, id);
CREATE INDEX reading_by_swatch ON reading (swatch_id, state, repeat);

-- When it was put away; NULL while it is in use.
ALTER TABLE trial ADD COLUMN put_away_at TEXT;
-- Rises with every change but a reading, a void or a line of the log.
ALTER TABLE trial ADD COLUMN revision INTEGER NOT NULL DEFAULT 0;
-- 0 until a meter has answered that the trial is read with: then its geometry and repeatability are
-- taken over.
ALTER TABLE trial ADD COLUMN meter_known INTEGER NOT NULL DEFAULT 1 CHECK (meter_known IN (0, 1));

ALTER TABLE trial_plan ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE deed ADD COLUMN version INTEGER NOT NULL DEFAULT 1;

-- The one swatch that a deed concerns, so that its state is found without reading the whole log.
ALTER TABLE deed ADD COLUMN swatch INTEGER;
DROP TRIGGER deed_is_not_changed;
UPDATE deed SET swatch = coalesce(
    deed ->> '$.Laid.swatch', deed ->> '$.Skipped.swatch', deed ->> '$.Lifted.swatch',
    deed ->> '$.Bar.swatch', deed ->> '$.Grain.swatch', deed ->> '$.Noted.swatch',
    deed ->> '$.Spoilt.swatch');
CREATE TRIGGER deed_is_not_changed BEFORE UPDATE ON deed
WHEN OLD.batch IS NOT NULL
BEGIN SELECT RAISE (ABORT, 'what was done is never changed'); END;
CREATE INDEX deed_by_swatch ON deed (trial_id, swatch);

-- Forms that were answered: one that is sent twice is done once, and answered alike.
CREATE TABLE answered (
    token  TEXT PRIMARY KEY,
    answer TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- A file's tubes are looked up by it.
CREATE INDEX tube_by_label ON tube (name, maker);

-- "USW1": what kind of file this is, for programs that look at its first page.
PRAGMA application_id = 1431525169;
