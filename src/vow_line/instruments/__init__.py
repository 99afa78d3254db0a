"""Outside devices, a small interface each with a stand-in that ships. The caliper comes with measuring in full."""
