-- Records: one table a built-in type. Money in hundredths, numbers and percents in millionths, dates in days and
-- times in seconds since 1970-01-01, links as ids. Fields that administrators add stand in the JSON of added.
CREATE TABLE people (
  id INTEGER PRIMARY KEY,
  name TEXT,
  email TEXT,
  team INTEGER,
  active INTEGER,
  added TEXT
);
CREATE INDEX people_team ON people (team);
CREATE TABLE teams (
  id INTEGER PRIMARY KEY,
  name TEXT,
  added TEXT
);
CREATE TABLE customers (
  id INTEGER PRIMARY KEY,
  name TEXT,
  segment TEXT,
  kind TEXT,
  source TEXT,
  size INTEGER,
  city TEXT,
  region TEXT,
  postcode TEXT,
  country TEXT,
  parent INTEGER,
  owner INTEGER,
  created INTEGER,
  changed INTEGER,
  created_by INTEGER,
  changed_by INTEGER,
  added TEXT
);
CREATE INDEX customers_parent ON customers (parent);
CREATE INDEX customers_owner ON customers (owner);
CREATE TABLE contacts (
  id INTEGER PRIMARY KEY,
  name TEXT,
  kind TEXT,
  source TEXT,
  email TEXT,
  phone TEXT,
  job TEXT,
  customer INTEGER,
  owner INTEGER,
  created INTEGER,
  changed INTEGER,
  created_by INTEGER,
  changed_by INTEGER,
  added TEXT
);
CREATE INDEX contacts_customer ON contacts (customer);
CREATE INDEX contacts_owner ON contacts (owner);
CREATE TABLE deals (
  id INTEGER PRIMARY KEY,
  name TEXT,
  customer INTEGER,
  contact INTEGER,
  owner INTEGER,
  kind TEXT,
  source TEXT,
  stage TEXT,
  value INTEGER,
  likelihood INTEGER,
  expected_close INTEGER,
  closed INTEGER,
  created INTEGER,
  changed INTEGER,
  created_by INTEGER,
  changed_by INTEGER,
  added TEXT
);
CREATE INDEX deals_customer ON deals (customer);
CREATE INDEX deals_contact ON deals (contact);
CREATE INDEX deals_owner ON deals (owner);
CREATE TABLE products (
  id INTEGER PRIMARY KEY,
  name TEXT,
  family TEXT,
  price INTEGER,
  created INTEGER,
  changed INTEGER,
  created_by INTEGER,
  changed_by INTEGER,
  added TEXT
);
CREATE TABLE lines (
  id INTEGER PRIMARY KEY,
  deal INTEGER,
  product INTEGER,
  quantity INTEGER,
  amount INTEGER,
  created INTEGER,
  changed INTEGER,
  created_by INTEGER,
  changed_by INTEGER,
  added TEXT
);
CREATE INDEX lines_deal ON lines (deal);
CREATE INDEX lines_product ON lines (product);
CREATE TABLE activities (
  id INTEGER PRIMARY KEY,
  kind TEXT,
  purpose TEXT,
  outcome TEXT,
  subject TEXT,
  notes TEXT,
  deal INTEGER,
  customer INTEGER,
  contact INTEGER,
  owner INTEGER,
  happens INTEGER,
  minutes INTEGER,
  done INTEGER,
  created INTEGER,
  changed INTEGER,
  created_by INTEGER,
  changed_by INTEGER,
  added TEXT
);
CREATE INDEX activities_deal ON activities (deal);
CREATE INDEX activities_customer ON activities (customer);
CREATE INDEX activities_contact ON activities (contact);
CREATE INDEX activities_owner ON activities (owner);

-- Every change to a record's field, values in their CSV form. Written in the transaction that makes the change.
CREATE TABLE changes (
  id INTEGER PRIMARY KEY,
  record_type TEXT NOT NULL,
  record INTEGER NOT NULL,
  field TEXT NOT NULL,
  "from" TEXT,
  "to" TEXT,
  at INTEGER NOT NULL,
  person INTEGER
);
CREATE INDEX changes_record ON changes (record_type, record, at);
CREATE INDEX changes_field ON changes (record_type, field, at);

CREATE TABLE organisation (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  name TEXT NOT NULL,
  settings TEXT NOT NULL
);

-- Who may sign in, as which person, with which role: administrator, composer or reader.
CREATE TABLE accounts (
  person INTEGER PRIMARY KEY REFERENCES people (id),
  role TEXT NOT NULL,
  password TEXT NOT NULL
);
CREATE TABLE sessions (
  token TEXT PRIMARY KEY,
  data BLOB NOT NULL,
  expiry INTEGER NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

-- A folder with an owner is that person's private one; the others are open to everyone.
CREATE TABLE folders (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  owner INTEGER REFERENCES people (id)
);
CREATE UNIQUE INDEX folders_private ON folders (owner) WHERE owner IS NOT NULL;
CREATE UNIQUE INDEX folders_name ON folders (lower(name)) WHERE owner IS NULL;

CREATE TABLE reports (
  id INTEGER PRIMARY KEY,
  folder INTEGER NOT NULL REFERENCES folders (id),
  owner INTEGER NOT NULL REFERENCES people (id),
  title TEXT NOT NULL,
  folded TEXT NOT NULL,
  description TEXT NOT NULL,
  brief TEXT NOT NULL,
  version INTEGER NOT NULL,
  created INTEGER NOT NULL,
  changed INTEGER NOT NULL,
  changed_by INTEGER NOT NULL REFERENCES people (id)
);
CREATE UNIQUE INDEX reports_title ON reports (folder, folded);

CREATE TABLE boards (
  id INTEGER PRIMARY KEY,
  folder INTEGER NOT NULL REFERENCES folders (id),
  owner INTEGER NOT NULL REFERENCES people (id),
  title TEXT NOT NULL,
  folded TEXT NOT NULL,
  version INTEGER NOT NULL,
  changed INTEGER NOT NULL
);
CREATE UNIQUE INDEX boards_title ON boards (folder, folded);
CREATE TABLE panels (
  id INTEGER PRIMARY KEY,
  board INTEGER NOT NULL REFERENCES boards (id) ON DELETE CASCADE,
  report INTEGER NOT NULL REFERENCES reports (id),
  x INTEGER NOT NULL,
  y INTEGER NOT NULL,
  w INTEGER NOT NULL,
  h INTEGER NOT NULL
);
CREATE INDEX panels_board ON panels (board);
CREATE INDEX panels_report ON panels (report);

-- Reports on the page of each record of a type; link is the path from the report's records to that record.
CREATE TABLE page_panels (
  id INTEGER PRIMARY KEY,
  record_type TEXT NOT NULL,
  report INTEGER NOT NULL REFERENCES reports (id),
  link TEXT NOT NULL,
  place INTEGER NOT NULL
);
CREATE UNIQUE INDEX page_panels_once ON page_panels (record_type, report);
