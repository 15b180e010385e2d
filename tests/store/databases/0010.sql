BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0010');
CREATE TABLE bobbin (
	id INTEGER NOT NULL, 
	thread_id INTEGER NOT NULL, 
	spec TEXT NOT NULL, 
	struck_at DATETIME, uid VARCHAR(32) DEFAULT '' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, import_id INTEGER, 
	PRIMARY KEY (id), 
	FOREIGN KEY(thread_id) REFERENCES thread (id)
);
INSERT INTO "bobbin" VALUES(1,4,'{"label":"L1","thread":4,"bobbin_class":"M","fill":1.0,"winding":"even","document":"bobbin","version":1}',NULL,'57c977d9840dd7d62763cadb3e426e9a',1,NULL);
CREATE TABLE bobbin_case (
	id INTEGER NOT NULL, 
	machine_id INTEGER, 
	spec TEXT NOT NULL, 
	struck_at DATETIME, uid VARCHAR(32) DEFAULT '' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, import_id INTEGER, 
	PRIMARY KEY (id), 
	FOREIGN KEY(machine_id) REFERENCES machine (id)
);
INSERT INTO "bobbin_case" VALUES(1,1,'{"label":"A","bobbin_class":"M","kept_for":"polyester","backlash":"spring","target":null,"document":"case","version":1}',NULL,'6322255d08d2df8aca5d4b2817626506',1,NULL);
INSERT INTO "bobbin_case" VALUES(2,2,'{"document":"case","version":1,"label":"R","bobbin_class":"L","kept_for":"","backlash":"spring","target":null}',NULL,'58793d97d2444d9eb73020eeabe93e2c',1,NULL);
INSERT INTO "bobbin_case" VALUES(3,2,'{"document":"case","version":1,"label":"Q","bobbin_class":"L","kept_for":"","backlash":"spring","target":null}',NULL,'3cda09434b3148789f8d556c39792f7c',1,NULL);
CREATE TABLE import (
	id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	name VARCHAR(200) NOT NULL, 
	brought TEXT NOT NULL, 
	undone_at DATETIME, 
	PRIMARY KEY (id)
);
CREATE TABLE import_change (
	id INTEGER NOT NULL, 
	import_id INTEGER NOT NULL, 
	place VARCHAR(20) NOT NULL, 
	"row" INTEGER NOT NULL, 
	was TEXT NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(import_id) REFERENCES import (id)
);
CREATE TABLE machine (
	id INTEGER NOT NULL, 
	spec TEXT NOT NULL, uid VARCHAR(32) DEFAULT '' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, import_id INTEGER, 
	PRIMARY KEY (id)
);
INSERT INTO "machine" VALUES(1,'{"nickname":"Heron","kind":"longarm","scale":{"kind":"readout","low":80.0,"high":400.0,"step":5.0,"unit":""},"throat_in":24.0,"school":null,"shank":null,"needle_system":"DPx5","gauge_unit":"mN","own_bobbin":null,"life_school":"hours","bobbin_school":"finer","path":null,"document":"machine","version":1}','24a99c33a8221a1dc896cd61ef375cee',1,NULL);
INSERT INTO "machine" VALUES(2,'{"nickname":"Wren","kind":"home","scale":{"kind":"dial","low":0.0,"high":10.0,"step":0.5,"unit":""},"throat_in":9.0,"school":null,"shank":null,"needle_system":"130/705 H","gauge_unit":"mN","own_bobbin":null,"life_school":"hours","bobbin_school":"finer","path":null,"document":"machine","version":1}','c97eacacf2024ea5a317f1c37ad5e5bc',1,NULL);
INSERT INTO "machine" VALUES(3,'{"document":"machine","version":2,"nickname":"Plover","kind":"longarm","scale":{"kind":"turns","low":-4.0,"high":4.0,"step":0.25,"unit":""},"throat_in":null,"school":null,"shank":null,"needle_system":"","gauge_unit":"mN","own_bobbin":null,"life_school":"hours","bobbin_school":"finer","path":null,"number_school":"one","has_gauge":null,"removable_case":null}','9365d6dc4c404d48a3041d0b8d1ff933',1,NULL);
CREATE TABLE needle_packet (
	id INTEGER NOT NULL, 
	spec TEXT NOT NULL, 
	struck_at DATETIME, uid VARCHAR(32) DEFAULT '' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, import_id INTEGER, 
	PRIMARY KEY (id)
);
INSERT INTO "needle_packet" VALUES(1,'{"metric":100,"american":16,"point":"ballpoint","bought":10,"finish":"steel","system":"DPx5","price":0.9,"document":"packet","version":1}',NULL,'cd875671b3bda9313bce786ea053cd2c',1,NULL);
CREATE TABLE practice (
	id INTEGER NOT NULL, 
	person VARCHAR(40) NOT NULL, 
	exercise VARCHAR(20) NOT NULL, 
	seed INTEGER NOT NULL, 
	level INTEGER NOT NULL, 
	begun_at DATETIME NOT NULL, 
	ended_at DATETIME, 
	score FLOAT, 
	items TEXT NOT NULL, 
	moves TEXT NOT NULL, 
	PRIMARY KEY (id)
);
INSERT INTO "practice" VALUES(1,'Ada','pull',5,1,'2026-11-26 06:00:00.000000',NULL,NULL,'{"mean_mn": 172.0}','[]');
CREATE TABLE "record" (
	id INTEGER NOT NULL, 
	machine_id INTEGER NOT NULL, 
	kind VARCHAR(30) NOT NULL, 
	at DATETIME NOT NULL, 
	noted_at DATETIME NOT NULL, 
	packet_id INTEGER, 
	payload TEXT NOT NULL, 
	struck_at DATETIME, 
	case_id INTEGER, 
	incident_id INTEGER, uid VARCHAR(32) DEFAULT '' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, detail VARCHAR(80), minutes FLOAT, top_id INTEGER, loaded_id INTEGER, fitted_id INTEGER, reading_id INTEGER, sandwich_id INTEGER, look_id INTEGER, change_id INTEGER, purpose_id INTEGER, knob_id INTEGER, good_id INTEGER, recipe_id INTEGER, mark_id INTEGER, quilt_id INTEGER, import_id INTEGER, quilt VARCHAR(80), length_m FLOAT, unreadable BOOLEAN DEFAULT 0 NOT NULL, cloth_id INTEGER, 
	PRIMARY KEY (id), 
	CONSTRAINT record_case FOREIGN KEY(case_id) REFERENCES bobbin_case (id), 
	CONSTRAINT record_incident FOREIGN KEY(incident_id) REFERENCES record (id), 
	FOREIGN KEY(machine_id) REFERENCES machine (id), 
	FOREIGN KEY(packet_id) REFERENCES needle_packet (id)
);
INSERT INTO "record" VALUES(1,1,'top_threaded','2026-10-01 09:07:00.000000','2026-10-31 09:00:00.000000',NULL,'{"top":[1],"kind":"top_threaded","version":1}',NULL,NULL,NULL,'36070019d573193fc840b750cc997c56',1,NULL,NULL,1,NULL,NULL,NULL,NULL,NULL,1,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(2,1,'needle_fitted','2026-10-01 09:14:00.000000','2026-10-31 09:00:00.000000',1,'{"metric":100,"american":16,"point":"ballpoint","finish":"steel","note":"","system":"DPx5","packet":1,"kind":"needle_fitted","version":1}',NULL,NULL,NULL,'372b8dc6add2c5753897317d8f90b6e8',1,'ballpoint',NULL,1,NULL,2,NULL,NULL,NULL,2,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(3,1,'bobbin_loaded','2026-10-01 09:21:00.000000','2026-10-31 09:00:00.000000',NULL,'{"bobbin":4,"bobbin_work":false,"case":1,"item":1,"fill":1.0,"kind":"bobbin_loaded","version":1}',NULL,1,NULL,'83470c9b50b716451eab00c67db2c207',1,NULL,NULL,1,3,2,NULL,NULL,NULL,3,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(4,1,'sandwich','2026-10-01 09:28:00.000000','2026-10-31 09:00:00.000000',NULL,'{"sandwich":{"weave":"ordinary","loft":"lofty","adhesive":false,"layers":3,"fabric":"","batting":"wool, lofty","backing":""},"kind":"sandwich","version":1}',NULL,NULL,NULL,'65234a7f6dfdb0cf3e71bde915e896fb',1,NULL,NULL,1,3,2,NULL,4,NULL,4,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(5,1,'bobbin_reading','2026-10-01 09:35:00.000000','2026-10-31 09:00:00.000000',NULL,'{"unit":"mN","pulls":[{"value":null,"low":196.0,"high":204.0},{"value":null,"low":198.0,"high":206.0}],"mean_mn":201.0,"swing":0.02,"calmness":"calm","verdict":"no_target","note":"","case":1,"method":"gauge","conditions":{"full_bobbin":null,"lying_flat":null,"phase":null},"kind":"bobbin_reading","version":1}',NULL,1,NULL,'750f7b56f784ab561b0619c52fb1341f',1,NULL,NULL,1,3,2,5,4,NULL,4,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(6,1,'bobbin_look','2026-10-01 09:42:00.000000','2026-10-31 09:00:00.000000',NULL,'{"test":"hang","feel":"right","case":1,"kind":"bobbin_look","version":1}',NULL,1,NULL,'ea17f32d1dd5d06d9ebc68e992411219',1,NULL,NULL,1,3,2,5,4,NULL,4,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(7,1,'screw_turned','2026-10-01 09:49:00.000000','2026-10-31 09:00:00.000000',NULL,'{"case":1,"minutes":2.0,"kind":"screw_turned","version":1}',NULL,1,NULL,'6d673deb93099f12d525a278981eae81',1,NULL,NULL,1,3,2,NULL,4,NULL,4,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(8,1,'part_marked','2026-10-01 09:56:00.000000','2026-10-31 09:00:00.000000',NULL,'{"part":"case","id":1,"fault":"scratched","kind":"part_marked","version":1}',NULL,1,NULL,'a590aa3c2b00fee730018750cc3dc606',1,'case 1',NULL,1,3,2,NULL,4,NULL,4,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(9,1,'part_marked','2026-10-01 10:03:00.000000','2026-10-31 09:00:00.000000',NULL,'{"part":"case","id":1,"fault":"","kind":"part_marked","version":1}',NULL,1,NULL,'373351084e21702fda73a364266bfe30',1,'case 1',NULL,1,3,2,NULL,4,NULL,4,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(10,1,'look','2026-10-01 10:10:00.000000','2026-10-31 09:00:00.000000',NULL,'{"setting":215.0,"grade":-1,"motion":"free_motion","sandwich":{"weave":"ordinary","loft":"lofty","adhesive":false,"layers":3,"fabric":"","batting":"wool, lofty","backing":""},"note":"","doubtful":false,"kind":"look","version":1}',NULL,NULL,NULL,'0b9ed3caafa8df4cc0d2e49a14d2266d',1,'-1',NULL,1,3,2,NULL,4,10,4,NULL,10,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(11,1,'look','2026-10-01 10:17:00.000000','2026-10-31 09:00:00.000000',NULL,'{"setting":206.0,"grade":0,"motion":"free_motion","sandwich":{"weave":"ordinary","loft":"lofty","adhesive":false,"layers":3,"fabric":"","batting":"wool, lofty","backing":""},"note":"","doubtful":false,"kind":"look","version":1}',NULL,NULL,NULL,'def5632a014726022b4f0e7f2070733b',1,'0',NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(12,1,'recipe','2026-10-01 10:24:00.000000','2026-10-31 09:00:00.000000',NULL,'{"name":"Spring Tide","setting":205.0,"grade":0,"bobbin_mn":201.0,"motion":"free_motion","note":"kept","looks":2,"low":200.0,"high":210.0,"kind":"recipe","version":1}',NULL,NULL,NULL,'c1723be79c2fdc76bf21c40b23e0cc20',1,NULL,NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,NULL,NULL,'Spring Tide',NULL,0,NULL);
INSERT INTO "record" VALUES(13,1,'clock_started','2026-10-01 10:31:00.000000','2026-10-31 09:00:00.000000',NULL,'{"quilt":"Spring Tide","kind":"clock_started","version":1}',NULL,NULL,NULL,'3cf8a6b6dd91f61300bb94165a3a6db5',1,NULL,NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,'Spring Tide',NULL,0,NULL);
INSERT INTO "record" VALUES(14,1,'run','2026-10-01 10:38:00.000000','2026-10-31 09:00:00.000000',NULL,'{"minutes":42.0,"quilt":"Spring Tide","metres":25.0,"kind":"run","version":1}',NULL,NULL,NULL,'5986bdf3cef946d3ba9a565ad6996a4f',1,NULL,42.0,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,'Spring Tide',25.0,0,NULL);
INSERT INTO "record" VALUES(15,1,'incident','2026-10-01 10:45:00.000000','2026-10-31 09:00:00.000000',NULL,'{"symptoms":["frays_above_the_eye"],"changed":["needle"],"unchanged":[],"words":"frays above the eye","note":"","kind":"incident","version":1}',NULL,NULL,NULL,'5787761e24edbdbba61e0cf09c9ba41c',1,NULL,NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(16,1,'incident_check','2026-10-01 10:52:00.000000','2026-10-31 09:00:00.000000',NULL,'{"incident":15,"cause":"guide_missed_or_wrapped","answer":"not_it","words":"Guide missed or wrapped","kind":"incident_check","version":1}',NULL,NULL,15,'4f60f4f1293c80156a13f76d467f0b1c',1,NULL,NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(17,1,'incident_answer','2026-10-01 10:59:00.000000','2026-10-31 09:00:00.000000',NULL,'{"incident":15,"finding":"tie_on","present":false,"words":"Was it tied on?","kind":"incident_answer","version":1}',NULL,NULL,15,'15a3273afe3b7ab91fdf9759d7caea86',1,NULL,NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(18,1,'incident_outcome','2026-10-01 11:06:00.000000','2026-10-31 09:00:00.000000',NULL,'{"incident":15,"outcome":"cured","cause":"needle_dull_burred_bent","words":"Needle dull, burred or bent","note":"","kind":"incident_outcome","version":1}',NULL,NULL,15,'c3fca7cf372a4493602e4c45e44d34a0',1,'cured',NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(19,1,'preflight','2026-10-01 11:13:00.000000','2026-10-31 09:00:00.000000',NULL,'{"done":["needle_dull_burred_bent"],"of":5,"kind":"preflight","version":1}',NULL,NULL,NULL,'b402bf24de07ecd4a0d8c94cfaa44e4f',1,NULL,NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(20,1,'upkeep','2026-10-01 11:20:00.000000','2026-10-31 09:00:00.000000',NULL,'{"what":"cleaning","note":"","kind":"upkeep","version":1}',NULL,NULL,NULL,'0e15fdc73ceb43bf43d7fe56a0f655e6',1,'cleaning',NULL,1,3,2,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(21,1,'needle_retired','2026-10-01 11:27:00.000000','2026-10-31 09:00:00.000000',NULL,'{"why":"due","note":"","kind":"needle_retired","version":1}',NULL,NULL,NULL,'13d4af0def1e95175b72ebc94e7b57dc',1,NULL,NULL,1,3,NULL,NULL,4,11,4,NULL,11,NULL,NULL,NULL,13,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(22,1,'run','2026-10-01 11:34:00.000000','2026-10-31 09:00:00.000000',NULL,'{"minutes":5.0,"quilt":"Mistake","metres":null,"kind":"run","version":1}','2026-11-01 09:00:00.000000',NULL,NULL,'5eb02499ac9281d22f65d12b66658bbb',1,NULL,5.0,1,3,NULL,NULL,4,11,4,NULL,11,NULL,NULL,NULL,22,NULL,'Mistake',NULL,0,NULL);
INSERT INTO "record" VALUES(23,2,'top_threaded','2026-10-01 11:41:00.000000','2026-10-31 09:00:00.000000',NULL,'{"top":[2],"kind":"top_threaded","version":1}',NULL,NULL,NULL,'1df35b3fadc44e992334a11520588b9a',1,NULL,NULL,23,24,NULL,NULL,NULL,NULL,23,NULL,30,NULL,34,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(24,2,'bobbin_loaded','2026-09-20 09:01:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"bobbin":1,"bobbin_work":false,"case":2,"item":null,"fill":1.0,"kind":"bobbin_loaded"}',NULL,2,NULL,'3848a82fa8d2436991d240a77f2d6858',1,NULL,NULL,NULL,24,NULL,NULL,NULL,NULL,24,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(25,2,'bobbin_loaded','2026-09-20 09:02:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"bobbin":1,"bobbin_work":false,"case":3,"item":null,"fill":1.0,"kind":"bobbin_loaded"}',NULL,3,NULL,'71c6cf8cf1164289bf472213efb01d9f',1,NULL,NULL,NULL,25,NULL,NULL,NULL,NULL,24,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(26,2,'case_put_back','2026-09-20 09:03:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"case":2,"kind":"case_put_back"}',NULL,2,NULL,'655294c87e7147339199f54757b0c417',1,NULL,NULL,NULL,24,NULL,NULL,NULL,NULL,24,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(27,2,'top_threaded','2026-09-20 09:04:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"top":[1],"kind":"top_threaded"}',NULL,NULL,NULL,'62b158f96be14edf8b3cfbfb8581f952',1,NULL,NULL,27,24,NULL,NULL,NULL,NULL,27,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(28,2,'bobbin_purpose','2026-09-20 09:05:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"purpose":"delicate","target":null,"kind":"bobbin_purpose"}',NULL,NULL,NULL,'7eb068f7f1e74eda9f65a9e5cdcb09c6',1,'delicate',NULL,27,24,NULL,NULL,NULL,NULL,27,28,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(29,2,'knob_set','2026-09-20 09:06:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"setting":0.0,"kind":"knob_set"}',NULL,NULL,NULL,'6d7b629e78204ccfaf7b9650f6016c7a',1,NULL,NULL,27,24,NULL,NULL,NULL,NULL,27,28,29,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(30,2,'knob_set','2026-09-20 09:07:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"setting":null,"kind":"knob_set"}',NULL,NULL,NULL,'aa250dd20746464da8d5f47a5ef07354',1,NULL,NULL,27,24,NULL,NULL,NULL,NULL,27,28,30,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(31,2,'good_enough','2026-09-20 09:08:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"grade":1,"kind":"good_enough"}',NULL,NULL,NULL,'e395276e590a4ec3bb5526985f79bfc3',1,NULL,NULL,27,24,NULL,NULL,NULL,NULL,27,28,30,31,NULL,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(32,2,'recipe','2026-09-20 09:09:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":2,"name":"Dunlin","setting":4.5,"grade":0,"bobbin_mn":null,"motion":"free_motion","note":"","looks":0,"low":null,"high":null,"last_look":4.5,"kind":"recipe"}',NULL,NULL,NULL,'875a358df3e74478a1d8451160db1447',1,NULL,NULL,27,24,NULL,NULL,NULL,NULL,27,28,30,31,NULL,NULL,NULL,NULL,'Dunlin',NULL,0,NULL);
INSERT INTO "record" VALUES(33,2,'recipe_used','2026-09-20 09:10:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"recipe":32,"stage":"begun","kind":"recipe_used"}',NULL,NULL,NULL,'067677ec7a2745c5bd93a781332ca294',1,NULL,NULL,27,24,NULL,NULL,NULL,NULL,27,28,30,31,33,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(34,2,'recipe_used','2026-09-20 09:11:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"recipe":32,"stage":"done","kind":"recipe_used"}',NULL,NULL,NULL,'5a2969a6ca5e4f22b70d05fc776a1b50',1,NULL,NULL,27,24,NULL,NULL,NULL,NULL,27,28,30,31,34,NULL,NULL,NULL,NULL,NULL,0,NULL);
INSERT INTO "record" VALUES(35,3,'mark_set','2026-09-20 09:12:00.000000','2026-09-22 09:00:00.000000',NULL,'{"version":1,"name":"where 40 over 60 balanced","at":0.5,"kind":"mark_set"}',NULL,NULL,NULL,'7e38915375f2439cb5973dda3218e52c',1,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,35,NULL,35,NULL,NULL,35,NULL,NULL,NULL,NULL,0,NULL);
CREATE TABLE revision (
	id INTEGER NOT NULL, 
	record_id INTEGER NOT NULL, 
	at DATETIME NOT NULL, 
	action VARCHAR(12) NOT NULL, 
	was_at DATETIME, 
	was TEXT, 
	PRIMARY KEY (id), 
	FOREIGN KEY(record_id) REFERENCES record (id)
);
INSERT INTO "revision" VALUES(1,11,'2026-11-01 09:00:00.000000','corrected','2026-10-01 10:17:00.000000','{"setting":205.0,"grade":0,"motion":"free_motion","sandwich":{"weave":"ordinary","loft":"lofty","adhesive":false,"layers":3,"fabric":"","batting":"wool, lofty","backing":""},"note":"","doubtful":false,"kind":"look","version":1}');
INSERT INTO "revision" VALUES(2,22,'2026-11-01 09:00:00.000000','struck',NULL,NULL);
CREATE TABLE thread (
	id INTEGER NOT NULL, 
	name VARCHAR(80) NOT NULL, 
	tex FLOAT NOT NULL, 
	diameter_mm FLOAT NOT NULL, 
	fiber VARCHAR(20) NOT NULL, 
	light BOOLEAN NOT NULL, 
	words TEXT NOT NULL, 
	spec TEXT NOT NULL, 
	struck_at DATETIME, uid VARCHAR(32) DEFAULT '' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, import_id INTEGER, line VARCHAR(80) DEFAULT '' NOT NULL, 
	PRIMARY KEY (id)
);
INSERT INTO "thread" VALUES(1,'Saltmarsh 40',25.0,1.75369833139127656584e-01,'polyester',0,'saltmarsh 40 40 wt trilobal multifilament polyester 40 wt cone ','{"document":"thread","version":2,"name":"Saltmarsh 40","thread":{"fibre":"polyester","construction":"multifilament","value":40.0,"system":"wt","strands":1,"per_strand":null},"colour":"#2f6f62","finish":"trilobal","plies":3,"form":"cone","note":"","bought":null,"hand_tests":[],"line":"Saltmarsh"}',NULL,'ac703fc5283efdc9a527def8fe3cb1b4',2,NULL,'saltmarsh');
INSERT INTO "thread" VALUES(2,'Ebb 40',2.66666666666666678513e+01,1.81121184846670668644e-01,'polyester',0,'ebb 40 120 denier × 2 trilobal multifilament polyester 38 wt cone ','{"name":"Ebb 40","thread":{"fibre":"polyester","construction":"multifilament","value":120.0,"system":"denier","strands":2,"per_strand":null},"colour":"#35557a","finish":"trilobal","plies":2,"form":"cone","note":"","bought":null,"hand_tests":[],"document":"thread","version":1}',NULL,'5df738d8c015f6a59e97ee8b1063e8e4',1,NULL,'');
INSERT INTO "thread" VALUES(3,'Eelgrass 60',1.66666666666666678513e+01,1.43188869155963571788e-01,'polyester',0,'eelgrass 60 60 wt polyester multifilament polyester 60 wt cone ','{"name":"Eelgrass 60","thread":{"fibre":"polyester","construction":"multifilament","value":60.0,"system":"wt","strands":1,"per_strand":null},"colour":"#6f8f4f","finish":"plain","plies":2,"form":"cone","note":"","bought":null,"hand_tests":[],"document":"thread","version":1}',NULL,'1cb84cafe5081decbe21b3fe936161bc',1,NULL,'');
INSERT INTO "thread" VALUES(4,'Limpet 80',12.5,1.240051982282304871e-01,'polyester',1,'limpet 80 80 wt polyester multifilament polyester 80 wt pre wound ','{"name":"Limpet 80","thread":{"fibre":"polyester","construction":"multifilament","value":80.0,"system":"wt","strands":1,"per_strand":null},"colour":"#e8e2d2","finish":"plain","plies":2,"form":"pre_wound","note":"","bought":null,"hand_tests":[],"document":"thread","version":1}',NULL,'4eb31db11835676c2c5ac981c9a30cb5',1,NULL,'');
CREATE TABLE write_key (
	"key" VARCHAR(80) NOT NULL, 
	at DATETIME NOT NULL, 
	PRIMARY KEY ("key")
);
CREATE INDEX ix_thread_name ON thread (name);
CREATE INDEX ix_revision_record_id ON revision (record_id);
CREATE INDEX ix_record_packet_id ON record (packet_id);
CREATE INDEX record_at_machine ON record (machine_id, kind, at, id);
CREATE INDEX record_newest ON record (at, id);
CREATE INDEX record_kind_newest ON record (kind, at, id);
CREATE UNIQUE INDEX ix_machine_uid ON machine (uid);
CREATE UNIQUE INDEX ix_thread_uid ON thread (uid);
CREATE UNIQUE INDEX ix_needle_packet_uid ON needle_packet (uid);
CREATE UNIQUE INDEX ix_bobbin_case_uid ON bobbin_case (uid);
CREATE UNIQUE INDEX ix_bobbin_uid ON bobbin (uid);
CREATE UNIQUE INDEX ix_record_uid ON record (uid);
CREATE INDEX record_in_order ON record (machine_id, at, id);
CREATE INDEX record_detail ON record (machine_id, kind, detail, at, id);
CREATE INDEX record_detail_newest ON record (kind, detail, at, id);
CREATE INDEX record_of_case ON record (case_id, kind, at, id);
CREATE INDEX record_of_incident ON record (incident_id, at, id);
CREATE INDEX record_of_quilt ON record (quilt_id, at, id);
CREATE INDEX ix_write_key_at ON write_key (at);
CREATE INDEX ix_import_change_import_id ON import_change (import_id);
CREATE INDEX ix_practice_person ON practice (person);
CREATE INDEX record_unreadable ON record (id) WHERE unreadable;
CREATE INDEX record_named ON record (kind, quilt, at, id) WHERE quilt IS NOT NULL;
CREATE INDEX record_of_cloth ON record (cloth_id, at, id) WHERE cloth_id IS NOT NULL;
COMMIT;
