# Bash completion for fortitorctl: source this file or put it into /etc/bash_completion.d.
_fortitorctl() {
  local current="${COMP_WORDS[COMP_CWORD]}" command="${COMP_WORDS[1]:-}"
  if [ "$COMP_CWORD" -eq 1 ]; then
    mapfile -t COMPREPLY < <(compgen -W "evaluate simulate convert report check --help --version" -- "$current")
    return
  fi
  case "$command" in
    evaluate) mapfile -t COMPREPLY < <(compgen -W "--json --help" -- "$current"; compgen -f -X '!*.json' -- "$current") ;;
    simulate) mapfile -t COMPREPLY < <(compgen -W "tension-metal --seed --out --material --rate --stop-force --forget-zero --leave-extensometer --help" -- "$current") ;;
    report) mapfile -t COMPREPLY < <(compgen -W "--job --out --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    check) mapfile -t COMPREPLY < <(compgen -f -X '!*.fortitor' -- "$current") ;;
  esac
}
complete -o filenames -F _fortitorctl fortitorctl
