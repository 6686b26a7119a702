BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0001');
CREATE TABLE document (
	id INTEGER NOT NULL, 
	job_id INTEGER NOT NULL, 
	kind VARCHAR(10) NOT NULL, 
	"key" VARCHAR(60) NOT NULL, 
	place INTEGER NOT NULL, 
	head INTEGER NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE (job_id, kind, "key"), 
	CONSTRAINT kind_known CHECK (kind in ('terms', 'sheet', 'box')), 
	FOREIGN KEY(job_id) REFERENCES job (id)
);
INSERT INTO "document" VALUES(1,1,'terms','terms',0,1);
INSERT INTO "document" VALUES(2,1,'sheet','marrowby-toggle',0,1);
INSERT INTO "document" VALUES(3,1,'sheet','marrowby-rocker-dimmer',1,1);
INSERT INTO "document" VALUES(4,1,'box','hallway',0,4);
INSERT INTO "document" VALUES(5,1,'box','attic-room-a-name-that-is-cut-at-a-hyphe',1,1);
INSERT INTO "document" VALUES(6,1,'box','attic-gone',2,1);
CREATE TABLE job (
	id INTEGER NOT NULL, 
	"key" VARCHAR(60) NOT NULL, 
	name VARCHAR(120) NOT NULL, 
	made DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE ("key")
);
INSERT INTO "job" VALUES(1,'one-hallway-box','One hallway box','2026-11-25 21:47:54.140124');
CREATE TABLE revision (
	document_id INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	body TEXT NOT NULL, 
	sentence TEXT NOT NULL, 
	made DATETIME NOT NULL, 
	back INTEGER, 
	forth INTEGER, 
	origin INTEGER NOT NULL, 
	PRIMARY KEY (document_id, number), 
	FOREIGN KEY(document_id) REFERENCES document (id)
);
INSERT INTO "revision" VALUES(1,1,'{"name":"One hallway box","terms":{"code":"nec-2023","voltage":120},"circuits":[{"id":"2","breaker":15,"label":"Hall"}]}','Job “One hallway box” started','2026-11-25 21:47:54.143824',NULL,NULL,1);
INSERT INTO "revision" VALUES(2,1,'{"id":"marrowby-toggle","maker":"Marrowby","name":"Toggle switch","kind":"switch","gangs":1,"body":{"width":"1.375 in","height":"2.625 in","projection":"1 in"},"derating":"none needed","channels":[{"name":"","ratings":{"lighting":{"alone":"15 A"},"fan":{"alone":"7.5 A"}},"mixing":"fractions add"}]}','Sheet Toggle switch added','2026-11-25 21:47:54.145869',NULL,NULL,1);
INSERT INTO "revision" VALUES(3,1,'{"id":"marrowby-rocker-dimmer","maker":"Marrowby","name":"Rocker dimmer","kind":"dimmer","gangs":1,"body":{"width":"1.75 in","height":"2.75 in","projection":"1.3 in"},"derating":"by position","channels":[{"name":"","ratings":{"led":{"alone":"140 W","end":"115 W","middle":"90 W"},"incandescent":{"alone":"520 W","end":"430 W","middle":"350 W"}},"minimum":"10 W","mixing":"fractions add"}]}','Sheet Rocker dimmer added','2026-11-25 21:47:54.146841',NULL,NULL,1);
INSERT INTO "revision" VALUES(4,1,'{"id":"hallway","name":"Hallway","room":"Hall","circuit":"2","enclosure":{"gangs":2,"material":"nonmetallic","volume":"34 in3","clamps":false,"rings":[]},"cables":[{"id":"A","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"feed"},{"id":"B","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"top","goes":"lamps"},{"id":"C","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"onward"}],"devices":[{"id":"d1","gang":1,"sheet":"marrowby-rocker-dimmer","name":"Hall","gauge":14,"loads":[{"id":"l1","kind":"led","quantity":6,"each":"9 W","channel":1,"name":"ceiling lamps"}]},{"id":"d2","gang":2,"sheet":"marrowby-toggle","name":"Outside lamp","gauge":14,"loads":[{"id":"l2","kind":"led","quantity":1,"each":"12 W","channel":1,"name":""}]}]}','Box “Hallway” brought in with the job','2026-11-25 21:47:54.147677',NULL,NULL,1);
INSERT INTO "revision" VALUES(4,2,'{"id":"hallway","name":"Hallway","room":"Hall","circuit":"2","enclosure":{"gangs":2,"material":"nonmetallic","volume":"34 in3","clamps":false,"rings":[]},"cables":[{"id":"A","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"feed"},{"id":"B","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"top","goes":"lamps"},{"id":"C","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"onward"},{"id":"D","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"top","goes":""}],"devices":[{"id":"d1","gang":1,"sheet":"marrowby-rocker-dimmer","name":"Hall","gauge":14,"loads":[{"id":"l1","kind":"led","quantity":6,"each":"9 W","channel":1,"name":"ceiling lamps"}]},{"id":"d2","gang":2,"sheet":"marrowby-toggle","name":"Outside lamp","gauge":14,"loads":[{"id":"l2","kind":"led","quantity":1,"each":"12 W","channel":1,"name":""}]}]}','14/2 cable D added','2026-11-25 21:47:54.476021',1,NULL,2);
INSERT INTO "revision" VALUES(4,3,'{"id":"hallway","name":"Hallway","room":"Hall","circuit":"2","enclosure":{"gangs":2,"material":"nonmetallic","volume":"30 in3","clamps":false,"rings":[]},"cables":[{"id":"A","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"feed"},{"id":"B","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"top","goes":"lamps"},{"id":"C","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"onward"},{"id":"D","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"top","goes":""}],"devices":[{"id":"d1","gang":1,"sheet":"marrowby-rocker-dimmer","name":"Hall","gauge":14,"loads":[{"id":"l1","kind":"led","quantity":6,"each":"9 W","channel":1,"name":"ceiling lamps"}]},{"id":"d2","gang":2,"sheet":"marrowby-toggle","name":"Outside lamp","gauge":14,"loads":[{"id":"l2","kind":"led","quantity":1,"each":"12 W","channel":1,"name":""}]}]}','Volume marked 30 in3','2026-11-25 21:47:54.534193',2,NULL,3);
INSERT INTO "revision" VALUES(4,4,'{"id":"hallway","name":"Hallway","room":"Hall","circuit":"2","enclosure":{"gangs":2,"material":"nonmetallic","volume":"34 in3","clamps":false,"rings":[]},"cables":[{"id":"A","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"feed"},{"id":"B","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"top","goes":"lamps"},{"id":"C","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"bottom","goes":"onward"},{"id":"D","gauge":14,"insulated":2,"grounds":1,"run":"ends","enters":"top","goes":""}],"devices":[{"id":"d1","gang":1,"sheet":"marrowby-rocker-dimmer","name":"Hall","gauge":14,"loads":[{"id":"l1","kind":"led","quantity":6,"each":"9 W","channel":1,"name":"ceiling lamps"}]},{"id":"d2","gang":2,"sheet":"marrowby-toggle","name":"Outside lamp","gauge":14,"loads":[{"id":"l2","kind":"led","quantity":1,"each":"12 W","channel":1,"name":""}]}]}','Undone: Volume marked 30 in3','2026-11-25 21:47:54.579839',1,3,2);
INSERT INTO "revision" VALUES(5,1,'{"id":"attic-room-a-name-that-is-cut-at-a-hyphe","name":"A name that is cut at a hyphen","room":"Attic room","enclosure":{"gangs":2,"material":"nonmetallic","volume":"34 in3","clamps":false,"rings":[]},"cables":[],"devices":[]}','Box “A name that is cut at a hyphen” started in Attic room','2026-11-25 21:47:54.610096',NULL,NULL,1);
INSERT INTO "revision" VALUES(6,1,'{"id":"attic-gone","name":"Gone","room":"Attic","enclosure":{"gangs":1,"material":"nonmetallic","volume":"18 in3","clamps":false,"rings":[]},"cables":[],"devices":[]}','Box “Gone” started in Attic','2026-11-25 21:47:54.636319',NULL,NULL,1);
CREATE TABLE summary (
	document_id INTEGER NOT NULL, 
	room VARCHAR(60) NOT NULL, 
	name VARCHAR(60) NOT NULL, 
	circuit VARCHAR(20), 
	gangs INTEGER NOT NULL, 
	state VARCHAR(10) NOT NULL, 
	binds TEXT NOT NULL, 
	rail TEXT NOT NULL, 
	PRIMARY KEY (document_id), 
	FOREIGN KEY(document_id) REFERENCES document (id)
);
INSERT INTO "summary" VALUES(4,'Hall','Hallway','2',2,'holds','8 in³ to spare','{"capacity":"34","nails":[["2","conductors",0],["2","conductors",0],["2","conductors",0],["2","conductors",0],["2","conductors",0],["2","conductors",0],["2","conductors",0],["2","conductors",0],["2","devices",0],["2","devices",0],["2","devices",0],["2","devices",0],["2","grounds",0]],"state":0}');
INSERT INTO "summary" VALUES(5,'Attic room','A name that is cut at a hyphen',NULL,2,'holds','34 in³ to spare','{"capacity":"34","nails":[],"state":0}');
INSERT INTO "summary" VALUES(6,'Attic','Gone',NULL,1,'holds','18 in³ to spare','{"capacity":"18","nails":[],"state":0}');
CREATE INDEX ix_document_job_id ON document (job_id);
CREATE INDEX ix_summary_state ON summary (state);
COMMIT;
