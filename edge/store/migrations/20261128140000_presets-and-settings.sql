-- Plans that are kept to be planned again, as the planner's fields, and what the user settled once for all.
CREATE TABLE preset (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE CHECK (length(name) BETWEEN 1 AND 200),
  form TEXT NOT NULL CHECK (json_valid(form))
) STRICT;

CREATE TABLE setting (
  key TEXT PRIMARY KEY CHECK (length(key) BETWEEN 1 AND 100),
  value TEXT NOT NULL CHECK (length(value) <= 1000)
) STRICT;
