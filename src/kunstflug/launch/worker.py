"""Start of the web processes, before anything heavy is loaded; what they do is in ``serving``."""

from kunstflug.launch.loading import seldom_collected


def main() -> None:
    """Serves until the standard input closes."""
    seldom_collected()
    from kunstflug.launch.serving import main as serve

    serve()


if __name__ == "__main__":
    main()
