CREATE TABLE scene (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  created INTEGER NOT NULL,
  changed INTEGER NOT NULL,
  deleted INTEGER,
  -- Counts every write; writers must name the value they saw.
  seq INTEGER NOT NULL DEFAULT 0,
  -- The revision the document stands at, and the newest one redo can reach.
  head INTEGER NOT NULL DEFAULT 0,
  tip INTEGER NOT NULL DEFAULT 0,
  document TEXT NOT NULL,
  pieces INTEGER NOT NULL DEFAULT 0,
  faces INTEGER,
  thumbnail BLOB
) STRICT;

-- Append-only: undo moves the scene's head, it never rewrites this table.
CREATE TABLE revision (
  scene TEXT NOT NULL REFERENCES scene (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  parent INTEGER NOT NULL,
  label TEXT NOT NULL,
  forward TEXT NOT NULL,
  inverse TEXT NOT NULL,
  created INTEGER NOT NULL,
  PRIMARY KEY (scene, number)
) STRICT;

CREATE TABLE blob (
  hash TEXT PRIMARY KEY,
  size INTEGER NOT NULL,
  bytes BLOB NOT NULL,
  created INTEGER NOT NULL
) STRICT;

CREATE TABLE setting (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;
