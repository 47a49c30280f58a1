"""`python -m banister` is `banister`."""

import sys

from banister.launch import main

sys.exit(main())
