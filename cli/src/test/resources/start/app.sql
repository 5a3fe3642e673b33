CREATE TABLE berths (id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE);
CREATE TABLE vessels (
  id INTEGER PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  call_sign TEXT NOT NULL UNIQUE COLLATE NOCASE,
  rig TEXT NOT NULL DEFAULT 'sail' CHECK (rig IN ('sail', 'motor', 'it''s other')),
  length DECIMAL(5,2) CHECK (length BETWEEN 2 AND 60),
  crew INTEGER DEFAULT 1,
  insured BOOLEAN NOT NULL DEFAULT 0,
  launched DATE,
  seen_at TIMESTAMP DEFAULT CURRENT_TIMESTAMP,
  owner_email TEXT,
  berth_id INTEGER REFERENCES berths (id),
  photo BLOB,
  "Größe (m)" REAL,
  revision INTEGER,
  tons REAL GENERATED ALWAYS AS (length * 2),
  UNIQUE (name, launched)
);
CREATE UNIQUE INDEX some ON vessels (name, crew) WHERE crew > 2;
CREATE UNIQUE INDEX cased ON vessels (name, lower(call_sign));
CREATE UNIQUE INDEX folded ON vessels (call_sign COLLATE NOCASE, launched);
CREATE UNIQUE INDEX twice ON vessels (name, launched);
