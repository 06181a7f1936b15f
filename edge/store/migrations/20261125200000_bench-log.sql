-- What was done at the bench besides reading. Like readings, lines of this log are only ever added; one
-- that does not count has a row in deed_void.

CREATE TABLE deed (
    id            INTEGER PRIMARY KEY,
    trial_id      INTEGER NOT NULL REFERENCES trial (id),
    -- The first deed that was stored together with this one: they are taken back together.
    batch         INTEGER,
    deed          TEXT NOT NULL CHECK (json_valid(deed)),
    -- The last reading of the trial before it; 0 where there was none.
    after_reading INTEGER NOT NULL,
    -- Given by the page that sent it, so that what is sent twice is stored once.
    token         TEXT UNIQUE,
    done_at       TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;

CREATE INDEX deed_by_trial ON deed (trial_id);

CREATE TABLE deed_void (
    deed_id   INTEGER PRIMARY KEY REFERENCES deed (id),
    reason    TEXT NOT NULL CHECK (reason <> ''),
    voided_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

-- What a file says of its mixture's ratio; of a planned trial the log tells it.
ALTER TABLE reading ADD COLUMN ratio_error TEXT NOT NULL DEFAULT '';
ALTER TABLE reading ADD COLUMN token TEXT;
CREATE UNIQUE INDEX reading_by_token ON reading (token) WHERE token IS NOT NULL;

CREATE TRIGGER deed_is_kept BEFORE DELETE ON deed
BEGIN SELECT RAISE (ABORT, 'what was done is never deleted'); END;

CREATE TRIGGER deed_is_not_changed BEFORE UPDATE ON deed
WHEN OLD.batch IS NOT NULL
BEGIN SELECT RAISE (ABORT, 'what was done is never changed'); END;

CREATE TRIGGER deed_void_is_kept BEFORE DELETE ON deed_void
BEGIN SELECT RAISE (ABORT, 'a void deed stays void'); END;

CREATE TRIGGER deed_void_is_not_changed BEFORE UPDATE ON deed_void
BEGIN SELECT RAISE (ABORT, 'a void deed stays void'); END;

CREATE TRIGGER plan_is_frozen_by_a_deed BEFORE UPDATE ON trial_plan
WHEN EXISTS (SELECT 1 FROM deed WHERE trial_id = OLD.trial_id)
BEGIN SELECT RAISE (ABORT, 'the bench has begun'); END;
