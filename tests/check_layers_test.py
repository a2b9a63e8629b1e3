"""tools/check_layers must find a breach: a room that includes a higher one, Qt in the core, a list that is no layering."""
import os, shutil, subprocess, sys, tempfile

root = sys.argv[1]
checker = os.path.join(root, 'tools/check_layers')


def run(files, rules=None):
    with tempfile.TemporaryDirectory() as folder:
        os.makedirs(os.path.join(folder, 'tools'))
        if rules is None:
            shutil.copy(os.path.join(root, 'tools/layers.txt'), os.path.join(folder, 'tools'))
        else:
            open(os.path.join(folder, 'tools/layers.txt'), 'w').write(rules)
        for name, text in files.items():
            os.makedirs(os.path.dirname(os.path.join(folder, name)), exist_ok=True)
            open(os.path.join(folder, name), 'w').write(text)
        return subprocess.run([sys.executable, checker, folder], capture_output=True, text=True)


fine = run({'core/curve/a.cpp': '#include "core/base/error.h"\n#include <vector>\n'})
assert fine.returncode == 0, fine.stdout
up = run({'core/curve/a.cpp': '#include "core/motion/move.h"\n'})
assert up.returncode == 1 and 'core/curve may not include core/motion' in up.stdout, up.stdout
qt = run({'core/plan/a.h': '#include <QString>\n'})
assert qt.returncode == 1 and 'QString' in qt.stdout, qt.stdout
ffmpeg = run({'core/render/a.cpp': '#include <libavcodec/avcodec.h>\n'})
assert ffmpeg.returncode == 1, ffmpeg.stdout
view = run({'app/reel/a.cpp': '#include "app/lanes/lanes_view.h"\n'})
assert view.returncode == 1 and 'app/reel may not include app/lanes' in view.stdout, view.stdout
markup = run({'app/reel/a.cpp': 'auto* l = new QLabel(name);\n', 'app/flow/b.cpp': 'w->setToolTip(name);\nQMessageBox box(x);\n'})
assert markup.returncode == 1 and markup.stdout.count('may only stand in') == 3, markup.stdout
terminal = run({'cli/a.cpp': 'fmt::print("{}", name);\n'})
assert terminal.returncode == 1, terminal.stdout
stray = run({'core/elsewhere/a.h': '\n'})
assert stray.returncode == 1 and 'no room' in stray.stdout, stray.stdout
loop = run({}, 'core/a: core/b\ncore/b:\n')
assert loop.returncode != 0 and 'not below' in loop.stderr, loop.stderr
unused = run({'core/b/a.cpp': '#include "core/a/a.h"\n'}, 'core/a:\ncore/z:\ncore/b: core/a core/z\n')
assert unused.returncode == 1 and 'core/b is allowed core/z and includes nothing of it' in unused.stdout, unused.stdout
print('check_layers finds what it should')
