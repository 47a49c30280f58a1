"""What was really cut, fitted and tacked: readings along a weld, judged, turned, planned on."""
