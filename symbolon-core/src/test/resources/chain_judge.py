# What Python's own client says of a server's chain: reads folders from standard input, each with
# chain.pem, key.pem, trust.pem; answers "accepted" or "refused" and why, a line each.
import ssl
import sys


def judge(folder, host):
    try:
        server = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        server.load_cert_chain(folder + "/chain.pem", folder + "/key.pem")
        client = ssl.create_default_context(cafile=folder + "/trust.pem")
    except (ssl.SSLError, OSError) as e:
        return "refused not loaded: %s" % e
    to_server, to_client = ssl.MemoryBIO(), ssl.MemoryBIO()
    there = server.wrap_bio(to_server, to_client, server_side=True)
    here = client.wrap_bio(to_client, to_server, server_hostname=host)
    done = {there: False, here: False}
    for _ in range(20):
        for side in (here, there):
            if done[side]:
                continue
            try:
                side.do_handshake()
                done[side] = True
            except ssl.SSLWantReadError:
                pass
            except ssl.SSLError as e:
                return "refused %s" % e
            except ssl.CertificateError as e:
                return "refused %s" % e
        if all(done.values()):
            return "accepted"
    return "refused without an end"


for line in sys.stdin:
    print(judge(line.rstrip("\n"), sys.argv[1]).replace("\n", " "), flush=True)
