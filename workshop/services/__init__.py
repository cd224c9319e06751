"""Every change to stored data, one verb a file; the API and the commands call nothing else."""
