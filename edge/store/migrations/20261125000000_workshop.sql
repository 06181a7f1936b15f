-- The workshop's shelf, its trials and their readings.
-- Units stand in the column names. Readings are only ever added: a reading that does not count has
-- a row in void, and triggers refuse every change of what was measured.

CREATE TABLE tube (
    id        INTEGER PRIMARY KEY,
    maker     TEXT NOT NULL,
    line      TEXT NOT NULL,
    name      TEXT NOT NULL CHECK (name <> ''),
    codes     TEXT NOT NULL,
    grade     TEXT NOT NULL CHECK (grade IN ('artist', 'student')),
    medium    TEXT NOT NULL CHECK (medium IN ('acrylic', 'oil', 'watercolour', 'gouache', 'tempera')),
    volume_ml REAL CHECK (volume_ml > 0)
) STRICT;

CREATE TABLE trial (
    id               INTEGER PRIMARY KEY,
    name             TEXT NOT NULL CHECK (name <> ''),
    illuminant       TEXT NOT NULL CHECK (illuminant IN ('D50', 'D65', 'A')),
    observer         TEXT NOT NULL CHECK (observer IN ('2', '10')),
    basis            TEXT NOT NULL CHECK (basis IN ('weight', 'volume', 'eye')),
    scale_g          REAL CHECK (scale_g > 0),
    pile_g           REAL CHECK (pile_g > 0),
    repeatability    REAL CHECK (repeatability > 0),
    geometry         TEXT NOT NULL,
    sheen            TEXT NOT NULL CHECK (sheen IN ('gloss', 'satin', 'matt')),
    repeats          INTEGER NOT NULL CHECK (repeats BETWEEN 1 AND 10),
    -- Comments and header row of the file it was imported from.
    source_head      TEXT,
    created_at       TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE TABLE trial_tube (
    trial_id INTEGER NOT NULL REFERENCES trial (id),
    position INTEGER NOT NULL CHECK (position >= 0),
    tube_id  INTEGER NOT NULL REFERENCES tube (id),
    role     TEXT NOT NULL CHECK (role IN ('tested', 'reference', 'white')),
    PRIMARY KEY (trial_id, position),
    UNIQUE (trial_id, tube_id)
) STRICT;

CREATE TABLE swatch (
    id       INTEGER PRIMARY KEY,
    trial_id INTEGER NOT NULL REFERENCES trial (id),
    number   INTEGER NOT NULL CHECK (number >= 1),
    backing  TEXT NOT NULL CHECK (backing IN ('paper', 'white', 'black')),
    film     TEXT NOT NULL CHECK (film IN ('full', 'thin')),
    UNIQUE (trial_id, number)
) STRICT;

-- What is mixed for a swatch; a swatch without a row here is the bare backing.
CREATE TABLE swatch_part (
    swatch_id INTEGER NOT NULL REFERENCES swatch (id),
    position  INTEGER NOT NULL,
    parts     REAL NOT NULL CHECK (parts > 0),
    PRIMARY KEY (swatch_id, position)
) STRICT;

CREATE TABLE reading (
    id         INTEGER PRIMARY KEY,
    trial_id   INTEGER NOT NULL REFERENCES trial (id),
    swatch_id  INTEGER NOT NULL REFERENCES swatch (id),
    state      TEXT NOT NULL CHECK (state IN ('wet', 'dry', 'lifted')),
    repeat     INTEGER NOT NULL CHECK (repeat >= 1),
    -- 36 reflectance factors as a JSON array, or CIELAB for an illuminant and observer.
    spectrum   TEXT,
    lab        TEXT,
    illuminant TEXT,
    observer   TEXT,
    instrument TEXT NOT NULL,
    taken_at   TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    -- The row of the file it was imported from, so that it can be given back unchanged.
    source_row TEXT,
    CHECK ((spectrum IS NULL) <> (lab IS NULL)),
    CHECK ((lab IS NULL) = (illuminant IS NULL) AND (lab IS NULL) = (observer IS NULL))
) STRICT;

CREATE INDEX reading_by_trial ON reading (trial_id);

CREATE TABLE void (
    reading_id  INTEGER PRIMARY KEY REFERENCES reading (id),
    reason      TEXT NOT NULL CHECK (reason <> ''),
    -- 1 where the imported row itself said so.
    from_source INTEGER NOT NULL CHECK (from_source IN (0, 1)),
    voided_at   TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE TRIGGER reading_is_kept BEFORE DELETE ON reading
BEGIN SELECT RAISE (ABORT, 'readings are never deleted'); END;

CREATE TRIGGER reading_is_not_changed BEFORE UPDATE ON reading
BEGIN SELECT RAISE (ABORT, 'readings are never changed'); END;

CREATE TRIGGER void_is_kept BEFORE DELETE ON void
BEGIN SELECT RAISE (ABORT, 'a void reading stays void'); END;

CREATE TRIGGER void_is_not_changed BEFORE UPDATE ON void
BEGIN SELECT RAISE (ABORT, 'a void reading stays void'); END;
