"""Pipes the lines of a file through a command, partition by partition, on a cluster engine."""

import json
import sys

from pyspark import SparkConf, SparkContext


def main() -> None:
    """Takes a task as JSON: master, cores, partitions, the file, where the rows go, the command and its environment."""
    task = json.loads(sys.argv[1])
    conf = SparkConf().setMaster(task["master"]).setAppName("kandrel")
    conf.set("spark.ui.enabled", "false")
    conf.set("spark.cores.max", str(task["cores"]))
    context = SparkContext(conf=conf)
    context.setLogLevel("ERROR")
    lines = context.textFile("file://" + task["lines"], task["partitions"])
    # Each partition is a stream of whole lines; a command that fails fails its partition, which is tried again.
    rows = lines.pipe(task["command"], env=task["environment"], checkCode=True)
    rows.saveAsTextFile("file://" + task["rows"])
    context.stop()


main()
