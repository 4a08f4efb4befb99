from nailhead.cli import main

raise SystemExit(main())
