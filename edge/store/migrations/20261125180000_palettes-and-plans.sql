-- Reference palettes, and the plans that are made against them.

CREATE TABLE palette (
    id         INTEGER PRIMARY KEY,
    name       TEXT NOT NULL CHECK (name <> ''),
    school     TEXT NOT NULL CHECK (school IN ('split', 'split-orange-violet', 'three', 'free')),
    version    INTEGER NOT NULL CHECK (version >= 1),
    -- The version that this one takes the place of.
    replaces   INTEGER UNIQUE REFERENCES palette (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE TABLE palette_tube (
    palette_id INTEGER NOT NULL REFERENCES palette (id),
    position   INTEGER NOT NULL CHECK (position >= 0),
    role       TEXT NOT NULL CHECK (role <> ''),
    tube_id    INTEGER NOT NULL REFERENCES tube (id),
    PRIMARY KEY (palette_id, position)
) STRICT;

-- What was wanted and what was worked out from it, as JSON; a trial that came from a file has none.
CREATE TABLE trial_plan (
    trial_id   INTEGER PRIMARY KEY REFERENCES trial (id),
    palette_id INTEGER REFERENCES palette (id),
    paper      TEXT NOT NULL CHECK (paper IN ('A4', 'Letter')),
    design     TEXT NOT NULL CHECK (json_valid(design)),
    plan       TEXT NOT NULL CHECK (json_valid(plan))
) STRICT;

CREATE INDEX trial_plan_by_palette ON trial_plan (palette_id);
CREATE INDEX swatch_part_by_swatch ON swatch_part (swatch_id);

CREATE TRIGGER used_palette_is_kept BEFORE DELETE ON palette_tube
WHEN EXISTS (SELECT 1 FROM trial_plan WHERE palette_id = OLD.palette_id)
BEGIN SELECT RAISE (ABORT, 'a palette that a trial has used is never changed'); END;

CREATE TRIGGER used_palette_is_not_changed BEFORE UPDATE ON palette
WHEN EXISTS (SELECT 1 FROM trial_plan WHERE palette_id = OLD.id)
BEGIN SELECT RAISE (ABORT, 'a palette that a trial has used is never changed'); END;

CREATE TRIGGER plan_is_frozen BEFORE UPDATE ON trial_plan
WHEN EXISTS (SELECT 1 FROM reading WHERE trial_id = OLD.trial_id)
BEGIN SELECT RAISE (ABORT, 'the bench has begun'); END;
