"""What a graph is made of: nodes, planes, whole-item values, and their content keys. The engine
draws them.
"""
