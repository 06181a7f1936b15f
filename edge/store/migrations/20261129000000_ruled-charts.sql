-- A chart that was ruled by hand and not printed here: how it is ruled, and what stands in its squares, as JSON.
CREATE TABLE ruled_chart (
  trial_id INTEGER PRIMARY KEY REFERENCES trial (id),
  chart    TEXT NOT NULL CHECK (json_valid(chart)),
  version  INTEGER NOT NULL
) STRICT;

-- Where the four outer corners of such a chart lie in a picture of it, in pixels from its left top corner, clockwise
-- from the chart's top left, as JSON; none for a picture of a printed sheet, whose marks tell.
ALTER TABLE picture ADD COLUMN corners TEXT CHECK (json_valid(corners));
