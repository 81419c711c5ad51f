-- What is measured between points is computed when it is looked at, with the client's own ruler and noise; kept beside them it
-- could say something else.
alter table analyses drop column readings;
