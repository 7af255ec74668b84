from abrazo.cli.main import run

run()
