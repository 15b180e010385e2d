"""What people bring and what they take along: tables read row by row, and everything written out."""
