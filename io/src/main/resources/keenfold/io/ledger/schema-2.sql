-- The schema of a Keen Fold ledger, version 1 (pragma user_version). docs/ledger.md explains it.
CREATE TABLE about (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE plan (id INTEGER PRIMARY KEY CHECK (id = 1), yaml TEXT NOT NULL);
CREATE TABLE dataset (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  file TEXT NOT NULL,
  fingerprint TEXT NOT NULL,
  rows INTEGER NOT NULL,
  repeats INTEGER NOT NULL,
  folds INTEGER NOT NULL,
  positive TEXT NOT NULL,
  source_rows BLOB NOT NULL,
  targets BLOB NOT NULL,
  groups BLOB,
  form TEXT NOT NULL CHECK (form IN ('partitions', 'random', 'in-order', 'single')),
  held_back BLOB
);
CREATE TABLE class (
  dataset INTEGER NOT NULL REFERENCES dataset, position INTEGER NOT NULL, label TEXT NOT NULL, rows INTEGER NOT NULL,
  PRIMARY KEY (dataset, position)
) WITHOUT ROWID;
CREATE TABLE split (
  dataset INTEGER NOT NULL REFERENCES dataset, repeat INTEGER NOT NULL, folds BLOB NOT NULL,
  PRIMARY KEY (dataset, repeat)
) WITHOUT ROWID;
CREATE TABLE side (
  dataset INTEGER NOT NULL REFERENCES dataset, repeat INTEGER NOT NULL, fold INTEGER NOT NULL, counts BLOB NOT NULL,
  PRIMARY KEY (dataset, repeat, fold)
) WITHOUT ROWID;
CREATE TABLE candidate (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, family TEXT NOT NULL, classifier TEXT NOT NULL,
  settings TEXT NOT NULL, steps TEXT NOT NULL
);
CREATE TABLE fit (
  id INTEGER PRIMARY KEY,
  purpose TEXT NOT NULL CHECK (purpose IN ('cv', 'inner', 'refit', 'holdout')),
  resample INTEGER NOT NULL DEFAULT 0,
  dataset INTEGER NOT NULL REFERENCES dataset,
  candidate INTEGER NOT NULL REFERENCES candidate,
  repeat INTEGER NOT NULL,
  fold INTEGER NOT NULL,
  status TEXT NOT NULL CHECK (status IN ('ok', 'failed')),
  message TEXT NOT NULL,
  train_seconds REAL, train_cpu_seconds REAL, predict_seconds REAL, predict_cpu_seconds REAL,
  size REAL,
  chosen TEXT,
  shared INTEGER NOT NULL DEFAULT 0,
  threshold REAL,
  columns INTEGER,
  crc INTEGER NOT NULL,
  UNIQUE (purpose, resample, dataset, candidate, repeat, fold)
);
CREATE TABLE score (
  fit INTEGER NOT NULL REFERENCES fit, side TEXT NOT NULL CHECK (side IN ('test', 'train')),
  metric TEXT NOT NULL, value REAL,
  PRIMARY KEY (fit, side, metric)
) WITHOUT ROWID;
CREATE TABLE prediction (fit INTEGER PRIMARY KEY REFERENCES fit, probabilities BLOB NOT NULL, labels BLOB);
CREATE TABLE opening (
  id INTEGER PRIMARY KEY, opened_at TEXT NOT NULL, dataset INTEGER NOT NULL REFERENCES dataset, candidate TEXT NOT NULL
);
CREATE VIEW fold_scores AS
  SELECT d.name AS dataset, c.name AS candidate, f.repeat + 1 AS repeat, f.fold + 1 AS fold, s.metric, s.value
  FROM score s JOIN fit f ON f.id = s.fit JOIN dataset d ON d.id = f.dataset JOIN candidate c ON c.id = f.candidate
  WHERE f.purpose = 'cv' AND s.side = 'test';
