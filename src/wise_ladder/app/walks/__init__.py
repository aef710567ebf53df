"""The view Walks: does every path I care about still work?"""
