-- Phones that were paired. The key is the SHA-256 of what the phone's cookie says, so that no copy of the workshop lets
-- anybody in.
CREATE TABLE session (
  key        TEXT PRIMARY KEY CHECK (length(key) = 64),
  data       TEXT NOT NULL CHECK (json_valid(data)),
  expires_at INTEGER NOT NULL
) STRICT;
