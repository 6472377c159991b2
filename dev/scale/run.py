#!/usr/bin/env python3
"""Runs kandrel over many series on a cluster engine and compares the rows with those of one process.

    python3 dev/scale/run.py [--series 20000] [--kandrel target/release/kandrel]

Needs Python, Java and a registry of Python packages. Prints a table in Markdown.
"""

import argparse
import json
import os
import random
import shlex
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import venv
from pathlib import Path

HERE = Path(__file__).resolve().parent
MODEL = "(0,1,1)(0,1,1)12"
# What is asked of every series; the threads of a process are left to the engine.
JOBS = {
    "screen --quick": ["screen", "-", "--quick", "--jobs", "1", "--as", "jsonl", "--quiet"],
    "stationarity": ["stationarity", "-", "--as", "jsonl", "--quiet"],
    "forecast": ["forecast", "-", "--model", MODEL, "--ahead", "12", "--as", "jsonl", "--quiet"],
}
ONE_THREAD = {"RAYON_NUM_THREADS": "1"}
PARTITIONS = 8


def record(number: int) -> str:
    """A monthly series of ten years: noise, an autoregression, a random walk or a seasonal one."""
    draw = random.Random(number)
    season = [draw.gauss(0, 1) for _ in range(12)]
    root = [0.0, 0.7, 1.0, 1.0][number % 4]
    level, values = 0.0, []
    for month in range(120):
        level = root * level + draw.gauss(0, 1)
        values.append(round(100 + level + (3 * season[month % 12] if number % 4 == 3 else 0), 3))
    return json.dumps({"series": f"series {number}", "start": "2010-01", "values": values})


class Engine:
    """The engine in an environment of its own."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        venv.create(folder / "venv", with_pip=True)
        self.python = folder / "venv" / "bin" / "python"
        subprocess.run([self.python, "-m", "pip", "install", "--quiet", "-r", HERE / "requirements.txt"], check=True)
        where = [self.python, "-c", "import pyspark; print(pyspark.__path__[0])"]
        self.home = Path(subprocess.run(where, check=True, capture_output=True, text=True).stdout.strip())
        self.running: list[subprocess.Popen] = []
        self.environment = {
            **os.environ,
            "SPARK_HOME": str(self.home),
            "PYSPARK_PYTHON": str(self.python),
            "SPARK_LOCAL_IP": "127.0.0.1",
            "SPARK_NO_DAEMONIZE": "1",
        }

    def start(self, kind: str, *options: str) -> subprocess.Popen:
        """Starts a master or a worker, as a group of processes that can be ended together."""
        command = [self.home / "bin" / "spark-class", f"org.apache.spark.deploy.{kind}", "--host", "127.0.0.1", *options]
        log = open(self.folder / f"log-{len(self.running)}", "wb")
        process = subprocess.Popen(command, env=self.environment, stdout=log, stderr=log, start_new_session=True)
        self.running.append(process)
        return process

    def cluster(self, workers: int) -> tuple[str, list[subprocess.Popen]]:
        """A master with workers of one core each."""
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        self.start("master.Master", "--port", str(port), "--webui-port", "0")
        wait_for(port)
        master = f"spark://127.0.0.1:{port}"
        options = ("--cores", "1", "--memory", "1g", "--webui-port", "0", "--work-dir", str(self.folder / "work"))
        return master, [self.start("worker.Worker", *options, master) for _ in range(workers)]

    def stop(self) -> None:
        """Ends all that was started."""
        for process in self.running:
            end(process)
        self.running.clear()

    def submit(self, master: str, cores: int, command: list[str], lines: Path, rows: Path) -> subprocess.Popen:
        """Begins a task."""
        task = {
            "master": master,
            "cores": cores,
            "partitions": PARTITIONS,
            "lines": str(lines),
            "rows": str(rows),
            "command": shlex.join(command),
            "environment": ONE_THREAD,
        }
        return subprocess.Popen([self.python, HERE / "driver.py", json.dumps(task)], env=self.environment, stderr=subprocess.DEVNULL)


def wait_for(port: int) -> None:
    """Waits until something listens there."""
    for _ in range(300):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.2)
    sys.exit("the master does not listen")


def end(process: subprocess.Popen) -> None:
    """Ends a process and all that it started, without a word to it."""
    if process.poll() is None:
        os.killpg(process.pid, signal.SIGKILL)
        process.wait()


def joined(rows: Path) -> bytes:
    """The rows of all partitions in their order."""
    return b"".join(part.read_bytes() for part in sorted(rows.glob("part-*")))


def main() -> None:
    """Runs all of it and prints the table."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--series", type=int, default=20_000)
    parser.add_argument("--kandrel", default="target/release/kandrel")
    options = parser.parse_args()
    program = shutil.which(options.kandrel) or sys.exit(f"there is no program {options.kandrel}: cargo build --release")
    folder = Path(tempfile.mkdtemp(prefix="kandrel-scale-"))
    engine = Engine(folder)
    try:
        measure(engine, str(Path(program).resolve()), options.series, folder)
    finally:
        engine.stop()
        shutil.rmtree(folder, ignore_errors=True)


def measure(engine: Engine, program: str, count: int, folder: Path) -> None:
    """Every job by one process, in local mode and on one and two workers; then a worker that is killed."""
    lines = folder / "series.jsonl"
    lines.write_text("".join(record(number) + "\n" for number in range(count)))
    print("| job | where | rows | same bytes | seconds | series a second |")
    print("| --- | --- | ---: | --- | ---: | ---: |")
    faults = 0

    def say(job: str, where: str, rows: bytes, wanted: bytes, seconds: float) -> None:
        nonlocal faults
        faults += rows != wanted
        same = "yes" if rows == wanted else "NO"
        number = rows.count(b"\n")
        print(f"| `{job}` | {where} | {number:,} | {same} | {seconds:.1f} | {count / seconds:,.0f} |", flush=True)

    wanted = {}
    for job, words in JOBS.items():
        start = time.monotonic()
        with lines.open("rb") as stdin:
            done = subprocess.run([program, *words], stdin=stdin, stdout=subprocess.PIPE, env={**os.environ, **ONE_THREAD}, check=True)
        wanted[job] = done.stdout
        say(job, "one process, one thread", done.stdout, done.stdout, time.monotonic() - start)

    places = [("local, two cores", "local[2]", 2, 0), ("one worker", None, 1, 1), ("two workers", None, 2, 2)]
    for where, master, cores, workers in places:
        if master is None:
            master, _ = engine.cluster(workers)
        for job, words in JOBS.items():
            rows = folder / f"rows-{cores}-{workers}-{list(JOBS).index(job)}"
            start = time.monotonic()
            if engine.submit(master, cores, [program, *words], lines, rows).wait() != 0:
                sys.exit(f"{job}, {where}: the engine failed")
            say(job, where, joined(rows), wanted[job], time.monotonic() - start)
        engine.stop()

    # The fastest of them: all that is left after the kill is done by one core.
    job = "screen --quick"
    master, (lost, _) = engine.cluster(2)
    rows = folder / "rows-killed"
    start = time.monotonic()
    task = engine.submit(master, 2, [program, *JOBS[job]], lines, rows)
    # The first partition is done, so that both workers are at work.
    while task.poll() is None and not list(rows.glob("_temporary/0/task_*")):
        time.sleep(0.1)
    was_running = task.poll() is None
    end(lost)
    if task.wait() != 0 or not was_running:
        sys.exit("the worker was not killed in the middle, or its work was not done again")
    say(job, "two workers, one killed", joined(rows), wanted[job], time.monotonic() - start)
    if faults:
        sys.exit(f"{faults} of the tables differ")


main()
