"""What is broken: the file, what stands there, what is put in its place, and the tests that should notice."""

from typing import Final, NamedTuple


class Mutation(NamedTuple):
    """One small change that would mislead a racer.

    ``equivalent`` says why a mutation that no test catches changes nothing a racer could notice; empty for all others.
    """

    file: str
    before: str
    after: str
    tests: str
    equivalent: str = ""


HEAT: Final = "tests/core/thermal"
DRIVE: Final = "tests/core/drive tests/core/propeller tests/core/laws tests/core/parts"
CHOOSE: Final = "tests/core/choose tests/core/drive tests/services/test_one_answer.py"
ADVICE: Final = "tests/core/choose tests/services/test_advice.py tests/services/test_plan.py"
LEARN: Final = "tests/core/learning tests/core/evidence tests/services/test_learning.py"
ALWAYS: Final = "tests/core/learning/test_always.py tests/core/learning/test_estimate.py"
LIVE: Final = "tests/core/live tests/services/test_live.py"
DAY: Final = "tests/core/day tests/services/test_day.py tests/services/test_plan.py"
TRACKS: Final = "tests/core/tracks tests/core/evidence"
TRIM: Final = "tests/core/trim tests/services/test_trim.py tests/services/test_trim_stories.py"
FIT: Final = "tests/core/fit"
BENCH: Final = "tests/core/bench"
WATER: Final = "tests/core/cooling"
DOORS: Final = "tests/web/test_accounts.py tests/web/test_shares.py tests/web/test_hardening.py"
FILES: Final = "tests/files tests/core/evidence"


def _numbers(file: str, tests: str, *changes: tuple[str, str, str]) -> tuple[Mutation, ...]:
    """Constants of one file with another value."""
    return tuple(Mutation(file, f"{name} = {was}", f"{name} = {now}", tests) for name, was, now in changes)


MUTATIONS: Final = (
    # heat and drive
    *_numbers("core/thermal/network.py", HEAT, ("BURNT_C: Final", "250.0", "1e9"), ("SOLDER_C: Final", "200.0", "1e9")),
    Mutation("core/thermal/network.py", "drop = amps * (copper", "drop = 0.0 * amps * (copper", HEAT),
    *_numbers("core/thermal/network.py", DRIVE, ("SLOW_PART: Final", "0.25", "1e-9")),
    Mutation("core/thermal/network.py", "inner = p.winding_case_w_k *", "inner = 2.0 * p.winding_case_w_k *", HEAT),
    *_numbers("core/thermal/launch.py", HEAT, ("TURNS_AT: Final", "0.5", "0.95")),
    *_numbers("core/thermal/nodes.py", HEAT, ("STILL: Final", "0.12", "1.0")),
    *_numbers("core/thermal/heat_forecast.py", HEAT, ("STOP_FACTOR: Final", "1.2", "9.9")),
    Mutation("core/thermal/tub.py", "    stop = bool(readings) and (", "    stop = True or (", HEAT),
    *_numbers("core/thermal/tub.py", HEAT, ("TOLD_BEFORE_S: Final", "10.0", "-60.0")),
    *_numbers("core/drive/limits.py", DRIVE, ("RATING_MARGIN: Final", "0.9", "1.0")),
    *_numbers("core/drive/limits.py", CHOOSE, ("MOTOR_CURRENT_STOP: Final", "1.3", "13.0")),
    Mutation("core/drive/limits.py", "else float(setup.controller.max_cells)", "else 2.0 * setup.controller.max_cells",
             "tests/core/drive/test_forecast.py tests/services/test_walls.py"),
    Mutation("core/drive/verdict.py", "np.where(_WALL & (uses <= 1.0), 0.0, uses)", "np.where(_WALL, 0.0, uses)",
             "tests/core/drive/test_forecast.py tests/services/test_walls.py"),
    Mutation("core/drive/verdict.py", "np.where(stops > 1, 2", "np.where(stops > 9, 2", CHOOSE),
    *_numbers("core/drive/verdict.py", DRIVE, ("STALL_RATIO: Final", "0.5", "0.05")),
    Mutation("core/drive/balance.py", "0.5 * p.no_load_current_a / p.no_load_rpm",
             "0.9 * p.no_load_current_a / p.no_load_rpm", DRIVE),
    Mutation("core/drive/balance.py", "bus * bus * p.pack_resistance_ohm, bus",
             "current * bus * p.pack_resistance_ohm, bus", DRIVE),
    Mutation("core/drive/varied.py", "winding**powers.resistance", "winding**(powers.resistance + 1)", CHOOSE),
    Mutation("core/drive/varied.py", '"weak_cell": pack.weakest', '"weak_cell": 1.0 + 0.0 * pack.weakest', CHOOSE),
    Mutation("core/drive/schools.py", "settled * (1.0 - kept)", "settled", DRIVE),
    Mutation("core/drive/family.py", 'dataclasses.replace(setup.motor, name="")', "setup.motor",
             "tests/core/learning tests/web/test_one_question.py"),
    *_numbers("core/propeller/curve.py", DRIVE, ("PAST_PITCH: Final", "1.25", "1.04")),
    *_numbers("core/propeller/seam.py", DRIVE, ("AIR_FULL: Final", "0.80", "40.0")),
    Mutation("core/laws/blade.py", "CAMBER_RELIEF: Final = 1.0 - 9.0 / 25.0", "CAMBER_RELIEF: Final = 0.0", DRIVE),
    Mutation("core/laws/resistance.py", "return 0.5 * water_kg_m3", "return 0.6 * water_kg_m3", DRIVE),
    Mutation("core/laws/crossing.py", "            f_a *= 0.5\n", "            f_a *= 1.0\n", "tests/core/laws"),
    Mutation("core/setup/editor.py", "all_up.value + shift", "all_up.value - shift", CHOOSE),
    *_numbers("core/setup/doubts.py", "tests/core/setup", ("RESISTANCE_FACTOR: Final", "4.0", "400.0"),
              ("PITCH_SLACK: Final", "0.02", "2.0")),
    # choosing
    Mutation("core/choose/steps.py", "    if then.burns:\n        return 9, then.over", "    if False:\n        return 9, then.over",
             "tests/core/choose tests/services/test_walls.py"),
    Mutation("core/choose/steps.py", "if now.holds and not was_hot else", "if now.holds else", ADVICE),
    Mutation("core/choose/steps.py", "if relief > 0.0 and then.over < now.over:", "if True:", ADVICE),
    Mutation("core/choose/steps.py", "PLACES.index(now.tightest if hot is None else hot)", "PLACES.index(now.tightest)", ADVICE),
    Mutation("core/choose/steps.py", "chance=max(f.chance, heat.chance),\n", "chance=f.chance * 0.0,\n", ADVICE),
    Mutation("core/drive/verdict.py", "chance > risk else found", "chance > 9.0 else found", ADVICE),
    Mutation("core/choose/backward.py", "** _by_mass(setup))", "** 0.0)", "tests/core/choose tests/services/test_plan.py"),
    Mutation("core/choose/backward.py", "100.0 * math.ceil(needed / 100.0)", "1000.0", CHOOSE),
    Mutation("services/aim/wish.py", "return self.then.speed_mps >= NEAR * wanted_mps", "return True", "tests/services/test_plan.py"),
    Mutation("services/match/search.py", "sold(float(found.kv_rpm_per_v[k]), KV_STEP)", "float(found.kv_rpm_per_v[k])", ADVICE),
    Mutation("core/choose/steps.py", "walled=any(m.key in WALLS for m in f.margins)", "walled=False",
             "tests/services/test_walls.py"),
    Mutation("core/choose/fronts.py", "np.lexsort((-gain, cost))", "np.lexsort((gain, cost))", CHOOSE),
    Mutation("core/choose/backward.py", "found |= {LimitKey.PACK_CURRENT}", "found |= {LimitKey.CELL_VOLTAGE}", CHOOSE),
    Mutation("core/choose/stock.py", '"pack": (FreePart.PACK in locked, setup.pack)',
             '"pack": (FreePart.PACK not in answer.changed, setup.pack)', "tests/services/test_walls.py"),
    *_numbers("core/choose/stock.py", "tests/services/test_plan.py tests/core/choose", ("NEAR_SIZE: Final", "0.025", "0.9"),
              ("NEAR_KV: Final", "0.06", "0.9"), ("LIGHTER: Final", "0.85", "0.01")),
    *_numbers("core/choose/class_rules.py", "tests/core/choose tests/services/test_plan.py tests/web/test_plan_api.py",
              ("FULL_CELL_V: Final", "4.2", "3.2"), ("LOUDER_DB: Final", "0.5", "50.0")),
    Mutation("services/match/search.py", "setup.controller.max_cells or pack.MOST_SERIES_CELLS)",
             "pack.MOST_SERIES_CELLS)", "tests/services/test_walls.py"),
    Mutation("services/match/tried_changes.py", "return bool(self.broken), *place", "return False, *place", "tests/services/test_plan.py"),
    # evidence: instruments, speeds, what is possible
    *_numbers("core/evidence/instruments.py", LEARN, ("DAY: Final", "0.007", "0.07"), ("REPEAT: Final", "0.006", "0.06"),
              ("WIND_PART: Final", "0.2", "0.0"), ("WIND_UNKNOWN: Final", "0.010", "0.0"), ("LIFTED: Final", "0.06", "0.0")),
    *_numbers("core/evidence/instruments.py", TRACKS, ("FULL_THROTTLE: Final", "0.95", "0.50"),
              ("PASS_FROM: Final", "0.75", "0.40"), ("AT_SPEED: Final", "0.90", "0.50")),
    *_numbers("core/evidence/instruments.py", LIVE, ("PASS_TO: Final", "0.70", "0.10")),
    Mutation("core/evidence/instruments.py", "Column.RPM: Range(low=0.0, high=300_000.0)",
             "Column.RPM: Range(low=0.0, high=30_000.0)", FILES),
    Mutation("core/evidence/instruments.py", "Column.SPEED: Range(low=0.0, high=130.0)",
             "Column.SPEED: Range(low=0.0, high=60.0)", FILES + " tests/core/tracks"),
    Mutation("core/evidence/instruments.py", "(By.GUN, What.CASE): 4.0", "(By.GUN, What.CASE): 0.4", LEARN),
    Mutation("core/evidence/instruments.py", "(By.TYPED, What.CURRENT): 0.06", "(By.TYPED, What.CURRENT): 0.6", LEARN),
    *_numbers("core/evidence/display.py", TRACKS, ("OVERSTATES: Final", "0.025", "0.25"),
              ("OVERSTATES_SPREAD: Final", "0.012", "0.12"), ("SAMPLE_MPS: Final", "0.15", "1.5"),
              ("LONE: Final", "0.05", "0.5")),
    Mutation("core/evidence/speed.py", "if track is not None and track.both_ways:", "if False and track:", TRACKS),
    Mutation("core/evidence/judgement.py", "return self.low <= read <= self.high", "return read <= self.high", LEARN),
    # learning
    *_numbers("core/learning/causes.py", LEARN, ("ODD: Final", "2.8", "28.0"), ("WIND_PART: Final", "0.04", "0.4"),
              ("PEAK_PART: Final", "0.04", "0.4"), ("LIFTED: Final", "0.10", "1.0")),
    *_numbers("core/learning/attribution.py", LEARN, ("LEVEL: Final", "0.05", "0.5"), ("POWER: Final", "0.80", "0.20"),
              ("PRIOR_WEIGHT: Final", "4.0", "400.0")),
    *_numbers("core/learning/estimate.py", ALWAYS, ("BENDS: Final", "2.0", "2000.0"), ("USUAL_RUNS: Final", "4.0", "4e6"),
              ("OUT: Final", "1e-6", "1.0")),
    Mutation("core/learning/estimate.py", "wide = np.sqrt(scatter) * spread", "wide = spread", ALWAYS),
    Mutation("core/learning/search.py", "HEAT_MOVED: Final = 0.5", "HEAT_MOVED: Final = 500.0", LEARN),
    *_numbers("core/learning/slips.py", ALWAYS, ("SURE: Final", "0.9", "1.1"), ("LEAST_CROWD: Final", "4", "400"),
              ("MPH: Final", "1.609344", "1.309344")),
    Mutation("core/learning/slips.py", "apart > CLEARER", "apart > -CLEARER", ALWAYS),
    Mutation("core/learning/drawn.py", "MOVES: Final = 6", "MOVES: Final = 0", ALWAYS),
    Mutation("core/learning/learn.py", "MOST_APART: Final = 2.0", "MOST_APART: Final = 200.0", ALWAYS),
    Mutation("core/setup/knowledge.py", "DENIED: Final = 10.0", "DENIED: Final = 1.0", ALWAYS),
    Mutation("core/learning/causes.py", "gain -= math.log(counts[way.cause])", "gain -= 0.0", LEARN),
    Mutation("core/drive/balance.py", "HUMP_WIDTH: Final = 0.2", "HUMP_WIDTH: Final = 0.0002", "tests/core/drive"),
    Mutation("services/shared/changes.py", "return len(parts) + len(knobs)", "return len(found)",
             "tests/services/test_put_right.py"),
    Mutation("services/compare/put_right.py", "speed['value'] / factor", "speed['value'] * factor",
             "tests/services/test_put_right.py"),
    *_numbers("core/learning/told.py", LEARN, ("USUAL_PASSES: Final", "4", "1"), ("USUAL_PASS_S: Final", "6.0", "1.0"),
              ("LONGEST_PASS_S: Final", "60.0", "6.0")),
    *_numbers("core/learning/spreads.py", LEARN, ("INSTRUMENT: Final", "0.005", "0.05"),
              ("CHARGE_OPEN: Final", "0.009", "0.09"), ("LAWS_RISE: Final", "0.03", "0.3")),
    *_numbers("core/learning/pool.py", "tests/core/learning/test_pool.py", ("LEAST_RACERS: Final", "3", "1"),
              ("MOST_OFF: Final", "4.0", "0.4")),
    *_numbers("core/setup/knowledge.py", LEARN, ("TAUGHT: Final", "0.9", "0.1"), ("SHARED: Final", "0.6", "0.01"),
              ("OF_SETUP: Final", "0.03", "0.25")),
    Mutation("core/learning/learn.py", "runs_here=len(self.taught_by.get(boat, ()))", "runs_here=len(self.taught_by)",
             "tests/web/test_one_question.py"),
    Mutation("services/learning/learning.py", "self.learned.identity == found.learned.identity:",
             "self.learned.identity != '':", LEARN),
    Mutation("core/learning/judged.py", "first = int(self.begins[k])", "first = int(self.begins[-1])", LEARN),
    Mutation("core/quantity/narrowed.py", "self.factor[:, rows].T @ self.factor[:, columns]",
             "0.5 * self.factor[:, rows].T @ self.factor[:, columns]", LEARN),
    Mutation("services/boats/boats.py", "made = forecast_of(document, knowledge_of(store))",
             "made = forecast_of(document, None)", "tests/web/test_one_question.py"),
    # tracks
    Mutation("core/tracks/passes.py", "+ 180) % 360 - 180) > 135)", "+ 180) % 360 - 180) > 45)", TRACKS),
    *_numbers("core/tracks/passes.py", TRACKS, ("SHORTEST_S: Final", "1.5", "0.1"),
              ("TURNING_DEG_PER_S: Final", "20.0", "200.0"), ("SLOWEST_MPS: Final", "2.0", "0.0")),
    *_numbers("core/tracks/log.py", TRACKS, ("MOST_CURRENT_PART: Final", "0.8", "0.1"), ("HOLE_S: Final", "5.0", "5e9")),
    *_numbers("core/tracks/align.py", TRACKS, ("LEAST_MATCH: Final", "0.7", "0.0")),
    *_numbers("core/tracks/steadiness.py", TRACKS, ("ENDS_S: Final", "0.6", "0.0"), ("SWINGS: Final", "2", "0")),
    *_numbers("core/tracks/turns.py", TRACKS, ("LEAST_DEG_PER_S: Final", "15.0", "0.0"),
              ("LEAST_TURNED_DEG: Final", "60.0", "6.0"), ("LEAST_MPS: Final", "4.0", "0.0")),
    *_numbers("core/tracks/plausible.py", TRACKS, ("POSITION_SLACK_M: Final", "30.0", "3e6"),
              ("FASTEST_RATE_HZ: Final", "200.0", "2e9"), ("GAP_S: Final", "1.0", "100.0")),
    *_numbers("core/tracks/cleaning.py", TRACKS, ("DISAGREE: Final", "0.3", "30.0"), ("WORST_FOR_S: Final", "0.4", "40.0")),
    # live
    *_numbers("core/live/sensors.py", LIVE, ("STUCK_S: Final", "12.0", "1e9"), ("BELOW_K: Final", "3.0", "3e3"),
              ("JUMP_K: Final", "12.0", "1e4"), ("MOST_ODD: Final", "8", "10**9"), ("ENOUGH: Final", "15", "10**9")),
    Mutation("core/live/sensors.py", "if as_other < self.coldest_c - BELOW_K:", "if False:", LIVE),
    Mutation("core/live/watch.py", "self._rest = self._soc = _soc_of", "self._rest = _soc_of", LIVE),
    *_numbers("core/live/watch.py", LIVE, ("TIRED: Final", "0.8", "0.0"), ("LEAST_DROP: Final", "0.3", "9.0")),
    Mutation("core/parts/hull_types.py", "chine_walks=True", "chine_walks=False", TRIM),
    Mutation("core/parts/hull_types.py", "deck_part=0.34", "deck_part=0.75", DRIVE),
    Mutation("core/live/watch.py", "        allowed = USABLE * self._soc * (1 - RESERVE) * self._capacity\n        node",
             "        allowed = USABLE * self._soc * (1 + RESERVE) * self._capacity\n        node", LIVE),
    *_numbers("core/live/watch.py", LIVE, ("SAY_AT: Final", "0.10", "0.95"), ("LOW_CELL_V: Final", "3.1", "1.1"),
              ("LOST_S: Final", "2.0", "2e9"), ("STILL_MPS: Final", "0.8", "80.0"), ("LEAST_PASS_S: Final", "1.0", "0.0"),
              ("LOW_FOR_S: Final", "1.0", "1e9")),
    *_numbers("core/live/heat.py", LIVE, ("BLOCKED_CHANCE: Final", "0.04", "0.9"), ("BLOCKED_LEFT: Final", "0.03", "0.9"),
              ("READ_SPREAD_K: Final", "4.0", "400.0"), ("FORGETS_S: Final", "30.0", "3e9")),
    *_numbers("core/live/recorded.py", LIVE, ("FEWEST: Final", "20", "2000")),
    # the day
    Mutation("core/day/passes.py", "setup.conditions.state_of_charge.value * (1 - RESERVE)",
             "setup.conditions.state_of_charge.value * RESERVE", DAY),
    *_numbers("core/day/passes.py", DAY + " " + LIVE, ("RESERVE: Final", "0.10", "0.0")),
    *_numbers("core/day/plan.py", DAY, ("PACK_COOLS_S: Final", "1200.0", "0.0")),
    *_numbers("core/day/cooling.py", DAY, ("COOL_ENOUGH_K: Final", "15.0", "35.0")),
    *_numbers("core/day/charging.py", DAY, ("BALANCE_S: Final", "600.0", "0.0")),
    *_numbers("core/day/weather.py", DAY, ("GUSTS: Final", "1.5", "1.0"), ("GO_PART: Final", "0.8", "8.0"),
              ("NO_PART: Final", "1.0", "10.0")),
    *_numbers("core/day/shore.py", "tests/core/day", ("KEPT_OFF_M: Final", "5.0", "0.0")),
    *_numbers("core/day/pond_water.py", "tests/core/day", ("WARMEST_D: Final", "210.0", "30.0"),
              ("WEATHER_K: Final", "1.8", "18.0")),
    *_numbers("core/day/checks.py", DAY, ("COLD_C: Final", "12.0", "-12.0")),
    *_numbers("services/launch/ready.py", DAY, ("HOT_C: Final", "90.0", "900.0"),
              ("LEAST_POND_M: Final", "20.0", "2e4")),
    # trim
    *_numbers("core/trim/next_setting.py", TRIM, ("SAFE_STEPS: Final", "2", "20"), ("WORSE: Final", "0.02", "2.0"),
              ("ENOUGH: Final", "0.003", "0.9"),
              ("RISK: Final", "0.03", "0.9")),
    *_numbers("core/trim/cliff.py", TRIM, ("A_STEP: Final", "0.08", "0.0"), ("OVER_WIDTH: Final", "0.05", "5.0"),
              ("WARNS: Final", "0.7", "0.0")),
    *_numbers("core/trim/reasons.py", TRIM, ("WIDEST: Final", "4.0", "1.0")),
    *_numbers("core/trim/practice.py", TRIM, ("WALKS_AT: Final", "0.6", "60.0"), ("HOOKS_AT: Final", "2.5", "250.0"),
              ("TURN_LENGTHS: Final", "12.0", "120.0")),
    *_numbers("core/trim/signs.py", TRIM, ("FROM_NOTHING: Final", "0.03", "0.9"), ("NOT_TAPPED: Final", "0.75", "0.0"),
              ("SECOND: Final", "0.5", "0.0"), ("GIVEN_UP: Final", "2", "200"),
              ("HELPED_BY_CHANCE: Final", "0.12", "0.99")),
    *_numbers("core/trim/curve.py", TRIM, ("LEVEL: Final", "0.3", "0.001"), ("USUAL_REACH: Final", "5.0", "0.05"),
              ("USUAL_SIZE: Final", "0.05", "5.0")),
    *_numbers("services/trim/trim.py", TRIM, ("LEAST_RISE_K: Final", "5.0", "500.0"), ("CLEAR_M: Final", "5e-3", "-1.0")),
    # fit, bench, cooling
    *_numbers("core/fit/shaft_joints.py", FIT, ("WHIRL_PART: Final", "0.75", "7.5"), ("LEAST_TURNS: Final", "3", "0"),
              ("GAP_PER_LENGTH: Final", "0.006", "0.06")),
    Mutation("core/fit/joints.py", "return wire_through_a(stint, WIRE_HOLDS_C, awg, air)",
             "return 0.5 * wire_through_a(stint, WIRE_HOLDS_C, awg, air)", FIT + " tests/web/test_one_question.py"),
    *_numbers("core/fit/build.py", FIT, ("COUPLER_TORQUE_PART: Final", "0.6", "6.0")),
    *_numbers("core/bench/stopped.py", BENCH, ("CURED: Final", "0.95", "0.5"), ("CURED_ALL_THE_SAME: Final", "0.04", "0.9"),
              ("_OTHERWISE: Final", "0.10", "0.99")),
    *_numbers("core/bench/pack_life.py", BENCH, ("DOUBLED: Final", "2.0", "4.0"), ("LOST: Final", "0.8", "0.4"),
              ("WEAK_CELL_V: Final", "0.08", "0.8"), ("SOON: Final", "20", "0"), ("_FREEDOM: Final", "4.0", "4e9")),
    *_numbers("core/bench/pack_readings.py", BENCH, ("LEAST_DROP: Final", "0.25", "0.05"), ("REST_V: Final", "0.012", "0.12")),
    *_numbers("core/bench/finders.py", BENCH, ("MOST: Final", "3", "1"), ("HELD_C: Final", "120.0", "1200.0")),
    *_numbers("core/cooling/solve.py", WATER, ("BEND_K: Final", "0.4", "40.0")),
    *_numbers("core/cooling/whatif.py", WATER, ("WEED_OPEN: Final", "0.12", "0.99"), ("KINK_OPEN: Final", "0.2", "0.99"),
              ("WARM_POND_C: Final", "28.0", "8.0")),
    *_numbers("core/cooling/stream.py", WATER + " tests/services/test_shelf.py", ("DRIPPING_MPS: Final", "0.4", "40.0"),
              ("THIN_M: Final", "0.15", "15.0")),
    # files and documents
    *_numbers("files/reading.py", FILES, ("DILUTED_M: Final", "2.5", "250.0"), ("FEWEST_SAMPLES: Final", "5", "500")),
    *_numbers("files/nmea.py", FILES, ("_HALF_DAY_S: Final", "43200.0", "1e9")),
    *_numbers("files/igc.py", FILES, ("_HALF_DAY_S", "43200.0", "1e9")),
    *_numbers("files/fit.py", FILES, ("_DEGREES: Final", "180.0 / 2**31", "180.0 / 2**30")),
    *_numbers("files/geojson.py", FILES, ("_MILLISECONDS_FROM: Final", "1e11", "1e30")),
    *_numbers("files/stream.py", LIVE, ("DAY_S: Final", "86400.0", "8640000.0"),
              ("AHEAD_S: Final", "30.0", "1e9"), ("BACK_S: Final", "60.0", "1e9"), ("GAP_S: Final", "1800.0", "1e9"),
              ("AGREE: Final", "3", "1")),
    *_numbers("documents/quantity.py", "tests/documents tests/core/drive", ("GUESSED_SPREAD: Final", "0.2", "0.0"),
              ("MEASURED_SPREAD: Final", "0.03", "0.3")),
    *_numbers("services/shared/run_rows.py", "tests/services/test_typed_runs.py", ("FASTEST_WIND_MPS: Final", "30.0", "3e6")),
    *_numbers("services/compare/knowledge.py", LEARN, ("NO_SHARE: Final", "2e-4", "2.0")),
    *_numbers("services/account/attempts.py", DOORS, ("BY_ADDRESS: Final", "40", "40000"), ("BY_LOGIN: Final", "8", "8000"),
              ("FREE: Final", "4", "4000"), ("LONGEST_S: Final", "8.0", "0.0")),
    *_numbers("services/account/devices.py", "tests/services/test_devices.py", ("BY_ADDRESS: Final", "10", "10000")),
    Mutation("services/run/photo.py", '"PNG": 24_000_000', '"PNG": 24_000_000_000', "tests/services/test_photo.py"),
    Mutation("services/live/listening.py", "await asyncio.to_thread(drives.check_may_end, self.store, drive_id)", "pass", DOORS),
    Mutation("store/acting.py", "if thrown or all(", "if all(", DOORS),
    Mutation("store/acting.py", "touched = [*session.new, *changed, *session.deleted]",
             "touched = [r for r in (*session.new, *changed, *session.deleted) if isinstance(r, HasOwner)]", DOORS),
    Mutation("store/acting.py", "told = told.where(table.c.owner_id == who.racer)", "pass", DOORS),
    Mutation("services/live/bridges.py", "if source.port not in reach.ports:", "if False:", LIVE),
    Mutation("services/account/own_account.py", "passkeys.answer(store, proof.passkey, host, origin, who.racer)", "pass", DOORS),
)  # fmt: skip
