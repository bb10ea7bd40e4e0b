<!-- the list itself lies in the layout; no row is open here -->
