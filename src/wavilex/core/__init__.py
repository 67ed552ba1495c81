"""The rules of the job: values in, values out. Each room is named in docs/architecture.md."""
