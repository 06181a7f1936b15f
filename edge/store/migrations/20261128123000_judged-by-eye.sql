-- A trial that is judged by eye: no reading of it is planned, and what is laid is done. (The column repeats
-- holds 1 to 10, and says nothing of such a trial.)
ALTER TABLE trial ADD COLUMN by_eye INTEGER NOT NULL DEFAULT 0 CHECK (by_eye IN (0, 1));
