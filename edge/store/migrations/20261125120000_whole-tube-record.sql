-- The whole label of a tube, and what became of it. Texts are kept as printed; an empty text and a
-- NULL mean "not known".

ALTER TABLE tube ADD COLUMN opacity       TEXT NOT NULL DEFAULT '';
ALTER TABLE tube ADD COLUMN lightfastness TEXT NOT NULL DEFAULT '';
ALTER TABLE tube ADD COLUMN series        TEXT NOT NULL DEFAULT '';
ALTER TABLE tube ADD COLUMN price         TEXT NOT NULL DEFAULT '';
ALTER TABLE tube ADD COLUMN left_ml       REAL CHECK (left_ml >= 0);
ALTER TABLE tube ADD COLUMN batch         TEXT NOT NULL DEFAULT '';
ALTER TABLE tube ADD COLUMN bought_on     TEXT CHECK (bought_on GLOB '????-??-??');
ALTER TABLE tube ADD COLUMN tested_on     TEXT CHECK (tested_on GLOB '????-??-??');
ALTER TABLE tube ADD COLUMN notes         TEXT NOT NULL DEFAULT '';
