"""What the process does beside answering: it starts, keeps a log, works through long jobs, brings in and takes out."""
