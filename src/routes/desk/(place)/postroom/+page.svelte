<!-- the list itself lies in the layout; no message is open here -->
