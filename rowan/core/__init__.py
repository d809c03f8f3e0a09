"""The rules of the job: pure computation, without pages, people, clock or network."""
