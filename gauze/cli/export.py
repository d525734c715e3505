"""``gauze export``: everything that is written of a design, into a folder."""

import argparse
from pathlib import Path

from gauze.core.formats.shelf_csv import MOST_BYTES, decode_shelf
from gauze.core.materials import load_catalogue
from gauze.core.printable import printable_path
from gauze.session import console
from gauze.session.document import Document
from gauze.session.exporting import KINDS, files_of, known_kinds
from gauze.session.shelf import Shelf
from gauze.session.storage import read_file, write_folder


def add_export(command: argparse.ArgumentParser) -> None:
    """Describe the options of the command."""
    command.add_argument("file", type=Path, metavar="FILE.gauze")
    command.add_argument("--to", type=Path, required=True, metavar="FOLDER", help="made where it is missing")
    command.add_argument("--what", action="append", choices=tuple(KINDS), help="only this; may be given several times")
    command.add_argument(
        "--table", type=Path, metavar="SHELF.csv", help="things on a shelf that are used first (docs/shelf.md)"
    )
    command.add_argument("--overwrite", action="store_true", help="files of the same names are overwritten")


def export(arguments: argparse.Namespace) -> int:
    """Write the files, all or none."""
    catalogue = load_catalogue()
    design = Document.open(arguments.file, catalogue).design
    shelf = Shelf()
    if arguments.table is not None:
        shelf = shelf.with_all(decode_shelf(read_file(arguments.table, MOST_BYTES), catalogue))
    files = files_of(design, catalogue, shelf.things, known_kinds(arguments.what or ()), arguments.file.stem)
    write_folder(arguments.to, files, overwrite=arguments.overwrite)
    console.write_text("".join(f"{printable_path(arguments.to / name)}\n" for name in files))
    return console.FINE
