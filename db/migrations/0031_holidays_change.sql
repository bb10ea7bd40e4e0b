-- A holiday that was taken out is a day like others again: nothing of it is kept but the event.
grant delete on holiday to lantern_app;
