"""Studies on a PostgreSQL server, through its own protocol; psycopg is loaded here and nowhere else."""
