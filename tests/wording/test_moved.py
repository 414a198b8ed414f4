"""What a guess was before anybody learnt of it."""

from kunstflug.wording.guesses import moved


def test_it_says_what_it_was_and_before_what():
    assert moved("8 mΩ", True, "usual for a mono") == "8 mΩ before the runs: usual for a mono"
    assert moved("8 mΩ", False, "usual for a mono") == "8 mΩ before what the club showed: usual for a mono"
    assert moved("42 mm", True, "") == "42 mm before the runs"
