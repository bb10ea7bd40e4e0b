-- A picture of a PDF's first page, drawn when somebody first wants to see it: a slow phone shows it long before it can draw the file itself.
alter table attachment add column first_page uuid;
-- tried once: a file that cannot be drawn costs that only once
alter table attachment add column first_page_tried_at timestamptz;
