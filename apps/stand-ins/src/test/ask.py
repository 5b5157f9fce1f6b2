"""Asks an instrument over TCP with a library of somebody else's. Arguments: port, then JSON: a list of [what, message]. Prints what came, as JSON."""
import json, sys
import pyvisa

port, steps = int(sys.argv[1]), json.loads(sys.argv[2])
manager = pyvisa.ResourceManager("@py")
device = manager.open_resource(f"TCPIP::127.0.0.1::{port}::SOCKET", read_termination="\n", write_termination="\n", timeout=20000)
found = []
for what, message in steps:
    if what == "write":
        device.write(message)
    elif what == "query":
        found.append(device.query(message))
    elif what == "values":
        found.append(device.query_ascii_values(message))
    elif what == "block":
        found.append(list(device.query_binary_values(message, datatype="f", is_big_endian=False)))
print(json.dumps(found))
