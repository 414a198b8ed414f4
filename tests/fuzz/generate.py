"""Requests made from the API's own description, and requests that are good but for something.

A property-testing library for OpenAPI was tried: it takes 0.1 to 0.4 s to make one setup document. These are made in
a fraction of a millisecond, so that tens of thousands can be sent.
"""

import copy
import math
import random
from typing import Any

ODD_TEXTS = (
    "", " ", "0", "null", "NaN", "x" * 5000, "\u0000", "Möwe 鷗", "'; DROP TABLE boats; --", "=1+1", "../../etc/passwd",
    "\u202e", "\U0001f6a4", "2026-13-45", "%s%n", "<script>", "\r\n",
)  # fmt: skip
ODD_NUMBERS = (
    0, -0.0, 1, -1, 0.5, -0.5, 1e-300, 1e300, -1e300, 2**31, 2**31 - 1, -(2**31), 2**63, 2**64, 10**30, 5e-324,
    0.1 + 0.2, 1e16,
)  # fmt: skip


class Maker:
    """Makes instances of JSON schemas with a random generator of its own."""

    def __init__(self, description: dict[str, Any], seed: int) -> None:
        self.schemas = description["components"]["schemas"]
        self.random = random.Random(seed)

    def instance(self, schema: dict[str, Any], depth: int = 0) -> Any:
        """Something that a schema allows, near its edges as often as not."""
        rng = self.random
        if "$ref" in schema:
            return self.instance(self.schemas[schema["$ref"].rsplit("/", 1)[1]], depth)
        for word in ("anyOf", "oneOf", "allOf"):
            if word in schema:
                return self.instance(rng.choice(schema[word]), depth)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return rng.choice(schema["enum"])
        match schema.get("type"):
            case "object":
                return self._object(schema, depth)
            case "array":
                most = min(schema.get("maxItems", 3), 3)
                count = rng.randint(min(schema.get("minItems", 0), most), most) if depth < 6 else 0
                return [self.instance(schema.get("items", {}), depth + 1) for _ in range(count)]
            case "integer":
                return self._whole(schema)
            case "number":
                return self._number(schema)
            case "string":
                return self._text(schema)
            case "boolean":
                return rng.random() < 0.5
            case "null":
                return None
            case _:
                return rng.choice([None, 1, "x", [], {}, True])

    def _object(self, schema: dict[str, Any], depth: int) -> dict[str, Any]:
        made = {}
        required = schema.get("required", [])
        for name, inner in schema.get("properties", {}).items():
            if name in required or self.random.random() < 0.5:
                made[name] = self.instance(inner, depth + 1)
        return made

    def _whole(self, schema: dict[str, Any]) -> int:
        low = int(schema.get("minimum", -1000))
        high = int(schema.get("maximum", max(low, 1000)))
        return self.random.choice([low, high, self.random.randint(low, high), min(max(1, low), high)])

    def _number(self, schema: dict[str, Any]) -> float:
        low, high = schema.get("minimum"), schema.get("maximum")
        if low is None and high is None:
            return self.random.choice([0.0, 1.0, 42.0, 300.0, 2200.0, self.random.uniform(-1e4, 1e4)])
        low = low if low is not None else -1e6
        high = high if high is not None else low + 1e6
        return self.random.choice([low, high, self.random.uniform(low, high)])

    def _text(self, schema: dict[str, Any]) -> str:
        if schema.get("format") == "binary":
            return "some file"
        if schema.get("format") == "date":
            return self.random.choice(["2026-05-04", "2026-12-31", "1999-02-28", "9999-12-31", "2026-02-30", "today"])
        low, high = schema.get("minLength", 0), min(schema.get("maxLength", 40), 40)
        if self.random.random() < 0.3:
            return self.random.choice(ODD_TEXTS)[: max(high, low)].ljust(low, "x")
        return "".join(self.random.choice("abc XYZ019_-.,é鷗") for _ in range(self.random.randint(low, high)))

    def mutated(self, value: Any) -> Any:
        """A copy of good JSON with one to three things changed somewhere."""
        changed = copy.deepcopy(value)
        for _ in range(self.random.randint(1, 3)):
            changed = self._once(changed)
        return changed

    def _once(self, value: Any) -> Any:
        places = list(_places(value))
        if not places or self.random.random() < 0.02:
            return self._rubbish()
        holder, key = self.random.choice(places)
        match self.random.randrange(5):
            case 0:
                holder[key] = self._rubbish()
            case 1:
                holder[key] = self._nudged(holder[key])
            case 2:
                del holder[key]
            case 3:
                if isinstance(holder, dict):
                    holder[self.random.choice(["", "extra", "__proto__", "name", "kv", "value", "x" * 300])] = holder[
                        key
                    ]
                else:
                    holder += [holder[key]] * self.random.choice([1, 50])
            case _:
                other, name = self.random.choice(places)
                if key in holder if isinstance(holder, dict) else key < len(holder):
                    try:
                        other[name] = copy.deepcopy(holder[key])
                    except (IndexError, RecursionError):
                        return value
        return value

    def _nudged(self, value: Any) -> Any:
        if isinstance(value, bool) or value is None:
            return not value
        if isinstance(value, int | float):
            factor = self.random.choice([0, -1, 1e-6, 0.01, 0.5, 0.9, 1.1, 2, 10, 1e3, 1e9])
            found = value * factor
            return found if math.isfinite(found) else 0
        if isinstance(value, str):
            return self.random.choice([value * 2, value[:-1], value.upper(), f"{value} ", "degF", "mm", "A"])
        return value

    def _rubbish(self) -> Any:
        return self.random.choice([None, True, False, [], {}, [[]], *ODD_TEXTS, *ODD_NUMBERS])


def _places(value: Any) -> Any:
    """Every holder and key of a JSON value."""
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in list(items):
        yield value, key
        yield from _places(inner)
