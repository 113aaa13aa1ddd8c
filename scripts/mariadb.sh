#!/usr/bin/env bash
# A private MariaDB on loopback: own data, socket, free port and generated password, never the system's server.
#   mariadb.sh start DIR [--fast]   starts it if it is not running and writes DIR/url (the data source name)
#   mariadb.sh stop DIR
#   mariadb.sh keep DIR             goes on starting it whenever it has died, until it is stopped or this script is ended
set -euo pipefail

act=${1:?start, stop or keep}
dir=${2:?a directory}
mkdir -p "$dir"
dir=$(cd "$dir" && pwd)
# A socket's path must be short, so it does not stand beside the data; its name is drawn once.
[ -s "$dir/socket" ] || echo "/tmp/fjell-$(head -c 6 /dev/urandom | od -An -tx1 | tr -d ' \n').sock" > "$dir/socket"
socket=$(cat "$dir/socket")
pidfile=$dir/mariadb.pid

running() { [ -s "$pidfile" ] && kill -0 "$(cat "$pidfile")" 2>/dev/null; }

ready() { mariadb --no-defaults --socket="$socket" -ufjell -p"$(cat "$dir/password")" -e 'select 1' >/dev/null 2>&1; }

# A full disk must not empty a file that is there: it is written beside it and takes its place.
write() { (umask 077 && cat > "$1.new" && mv "$1.new" "$1"); }

if [ "$act" = keep ]; then
  while sleep 2; do
    [ -e "$dir/stopped" ] && exit 0
    [ "$(awk '/^PPid/ {print $2}' /proc/$$/status)" = "$PPID" ] || exit 0 # who it was kept for is gone
    running || "$0" start "$dir" 2>/dev/null || true
  done
fi

if [ "$act" = stop ]; then
  touch "$dir/stopped" 2>/dev/null || true
  if running; then
    pid=$(cat "$pidfile")
    kill "$pid"
    for _ in $(seq 100); do kill -0 "$pid" 2>/dev/null || break; sleep 0.1; done
  fi
  exit 0
fi

if ! command -v mariadbd >/dev/null; then
  echo "installing mariadb-server-core and mariadb-client-core" >&2
  apt-get update -qq >&2
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq mariadb-server-core mariadb-client-core >&2
fi
rm -f "$dir/stopped"
if running && ready; then exit 0; fi

if [ ! -d "$dir/data/mysql" ]; then
  rm -rf "$dir/data"
  (umask 077 && head -c 24 /dev/urandom | base64 | tr -d '/+=\n' > "$dir/password")
  mariadb-install-db --no-defaults --user="$(id -un)" --datadir="$dir/data" --skip-test-db \
    --auth-root-authentication-method=socket > "$dir/install.log" 2>&1
fi
password=$(cat "$dir/password")
write "$dir/init.sql" <<SQL
CREATE USER IF NOT EXISTS 'fjell'@'localhost' IDENTIFIED BY '$password';
CREATE USER IF NOT EXISTS 'fjell'@'127.0.0.1' IDENTIFIED BY '$password';
GRANT ALL ON \`fjell%\`.* TO 'fjell'@'localhost';
GRANT ALL ON \`fjell%\`.* TO 'fjell'@'127.0.0.1';
CREATE DATABASE IF NOT EXISTS fjell CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
SQL

port=
# The port it had before comes first: a server that is running finds its database again.
before=$(sed -n 's/.*:\([0-9]*\))\/.*/\1/p' "$dir/url" 2>/dev/null || true)
for candidate in $before $(shuf -i 20000-32000 -n 50); do
  if ! (exec 3<>"/dev/tcp/127.0.0.1/$candidate") 2>/dev/null; then port=$candidate; break; fi
done

extra=()
if [ "${3:-}" = --fast ]; then extra=(--innodb-flush-log-at-trx-commit=0 --sync-binlog=0 --skip-innodb-doublewrite); fi
setsid mariadbd --no-defaults --user="$(id -un)" --datadir="$dir/data" --socket="$socket" --port="$port" \
  --bind-address=127.0.0.1 --pid-file="$pidfile" --log-error="$dir/mariadb.log" --init-file="$dir/init.sql" \
  --character-set-server=utf8mb4 --collation-server=utf8mb4_unicode_ci --skip-name-resolve=0 \
  --innodb-buffer-pool-size=256M --max-connections=200 "${extra[@]}" </dev/null >/dev/null 2>&1 &

for _ in $(seq 300); do
  if ready; then
    echo "fjell:$password@tcp(127.0.0.1:$port)/fjell" | write "$dir/url"
    exit 0
  fi
  sleep 0.1
done
echo "MariaDB did not start; its log ends:" >&2
tail -n 20 "$dir/mariadb.log" >&2
exit 1
