"""The view Rules: does it hold on every path?"""
