"""Write the project's schema in docs/schemas/ from the model; a test keeps it current."""

import json
from pathlib import Path

from bustle.core.document.checked import CheckedProject
from bustle.core.project.project import VERSION


def schema_text() -> str:
    return json.dumps(CheckedProject.model_json_schema(), ensure_ascii=False, indent=1) + "\n"


if __name__ == "__main__":
    path = Path(__file__).parents[1] / "docs" / "schemas" / f"project-{VERSION}.schema.json"
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(schema_text())
