-- Every accepted write in the order it was taken; sending one again is answered from here.
CREATE TABLE entry (
  scene TEXT NOT NULL REFERENCES scene (id) ON DELETE CASCADE,
  -- The scene's seq after it.
  seq INTEGER NOT NULL,
  -- The id the action brought along, and a hash of what it asked for.
  action TEXT NOT NULL UNIQUE,
  body TEXT NOT NULL,
  client TEXT NOT NULL,
  -- Revisions the document stood at before and after.
  head_before INTEGER NOT NULL,
  head_after INTEGER NOT NULL,
  -- The things it reached, as a JSON list of section/id.
  touched TEXT NOT NULL,
  answer TEXT NOT NULL,
  created INTEGER NOT NULL,
  PRIMARY KEY (scene, seq)
) STRICT, WITHOUT ROWID;

-- The action that made a revision, and the hash of the document after it.
ALTER TABLE revision ADD COLUMN action TEXT NOT NULL DEFAULT '';
ALTER TABLE revision ADD COLUMN hash TEXT NOT NULL DEFAULT '';

-- Whole documents now and then, deflated; number 0 is the start.
CREATE TABLE snapshot (
  scene TEXT NOT NULL REFERENCES scene (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  version INTEGER NOT NULL,
  document BLOB NOT NULL,
  hash TEXT NOT NULL,
  created INTEGER NOT NULL,
  PRIMARY KEY (scene, number)
) STRICT;

CREATE TABLE milestone (
  id INTEGER PRIMARY KEY,
  scene TEXT NOT NULL REFERENCES scene (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  number INTEGER NOT NULL,
  automatic INTEGER NOT NULL DEFAULT 0,
  created INTEGER NOT NULL
) STRICT;
CREATE INDEX milestone_scene ON milestone (scene, created);

-- Which scenes any revision or snapshot of which needs a stored mesh.
CREATE TABLE mesh_use (
  scene TEXT NOT NULL REFERENCES scene (id) ON DELETE CASCADE,
  hash TEXT NOT NULL,
  PRIMARY KEY (scene, hash)
) STRICT, WITHOUT ROWID;
CREATE INDEX mesh_use_hash ON mesh_use (hash);

-- A mesh in parts of a megabyte, each deflated by itself, so that neither storing nor reading one holds up the rest.
CREATE TABLE mesh (
  id INTEGER PRIMARY KEY,
  hash TEXT NOT NULL,
  size INTEGER NOT NULL,
  created INTEGER NOT NULL,
  complete INTEGER NOT NULL
) STRICT;
CREATE UNIQUE INDEX mesh_hash ON mesh (hash) WHERE complete = 1;
CREATE TABLE mesh_part (
  mesh INTEGER NOT NULL REFERENCES mesh (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  bytes BLOB NOT NULL,
  PRIMARY KEY (mesh, number)
) STRICT;
INSERT INTO mesh (hash, size, created, complete) SELECT hash, size, created, 1 FROM blob;
INSERT INTO mesh_part (mesh, number, bytes) SELECT mesh.id, 0, blob.bytes FROM blob JOIN mesh USING (hash);
DROP TABLE blob;
