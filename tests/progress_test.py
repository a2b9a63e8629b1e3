"""tools/progress: what it prints without a terminal, that errors are whole, and the command's own exit code."""
import os
import pty
import subprocess
import sys

tool = os.path.join(sys.argv[1], "tools/progress")


def run(script):
    ran = subprocess.run([tool, "compiling", "sh", "-c", script], capture_output=True, text=True)
    return ran.returncode, ran.stdout


def expect(what, holds):
    if not holds:
        print("failed:", what)
        sys.exit(1)


code, out = run("echo '[1/3] Building a'; echo '[2/3] Building b'; echo '[3/3] Linking c'")
expect("counted lines become one", (code, out) == (0, "virga: compiling: done, 3 steps in 0:00\n"))
code, out = run("echo 'ninja: no work to do.'")
expect("nothing to do is said", (code, out) == (0, "virga: compiling: nothing to do\n"))
code, out = run("echo '[1/2] Building a'; echo 'a.cpp:3: error: no'; echo '  int x = ;'; echo why >&2; exit 3")
expect("errors are whole", "a.cpp:3: error: no\n  int x = ;\n" in out and "why\n" in out)
expect("the exit code is the command's", code == 3 and "failed after" in out)
code, _ = run("kill -9 $$")
expect("a killed command is told by its code", code == 137)

# On a terminal: one line, written over again and again.
parent, child = pty.openpty()
ran = subprocess.Popen([tool, "tests", "sh", "-c", "for i in 1 2 3 4; do echo \"$i/4 Test\"; done"], stdout=child, stderr=child)
ran.wait()
os.close(child)
text = b""
try:
    while chunk := os.read(parent, 4096):
        text += chunk
except OSError:
    pass
expect("a progress line", b"\r\x1b[2Kvirga: tests: 2/4, 50 %" in text)
expect("it is gone at the end", text.rstrip().endswith(b"\r\x1b[2Kvirga: tests: done, 4 steps in 0:00"))
print("progress is told")
