-- The file says whose it is ("Nail" in ASCII), so that it is never taken for another program's, nor another one for it.
PRAGMA application_id = 1315006828;
