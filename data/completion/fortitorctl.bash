# Bash completion for fortitorctl: source this file or put it into /etc/bash_completion.d.
_fortitorctl() {
  local current="${COMP_WORDS[COMP_CWORD]}" command="${COMP_WORDS[1]:-}"
  if [ "$COMP_CWORD" -eq 1 ]; then
    mapfile -t COMPREPLY < <(compgen -W "evaluate series spectrum convert hardness import simulate report documents demands completeness labels listen plan book check backup bundle unbundle copy share doctor thumbnail --help --version" -- "$current")
    return
  fi
  case "$command" in
    evaluate) mapfile -t COMPREPLY < <(compgen -W "--piece --json --help" -- "$current"; compgen -f -X '!*.@(json|fortitor)' -- "$current") ;;
    series) mapfile -t COMPREPLY < <(compgen -W "--key --by --against --margin --interval --json --help" -- "$current"; compgen -f -X '!*.json' -- "$current") ;;
    spectrum) mapfile -t COMPREPLY < <(compgen -W "--rate --format --column --scale --sentinel --level --block --cut --gate --count --p --share --modulus --detail --m --levels --synth --length --seed --area --frequency --leave-out --study --json --help" -- "$current"; compgen -f -- "$current") ;;
    import) mapfile -t COMPREPLY < <(compgen -W "--method --json --help" -- "$current"; compgen -f -- "$current") ;;
    simulate) mapfile -t COMPREPLY < <(compgen -W "tension-metal flexure-beam poisson-gauge torsion-bar tension-plastic tension-composite flatwise-tension compression-solid crush-shell density hardness-rockwell hardness-brinell hardness-vickers hardness-knoop impact-pendulum impact-tension drop-impact compression-after-impact proof-load fatigue-constant fatigue-spectrum --fault --seed --out --material --rate --hours --stop-force --forget-zero --leave-extensometer --help" -- "$current") ;;
    hardness) mapfile -t COMPREPLY < <(compgen -W "HRC HRB HV HBW HRA HK HR15N HR30N HR45N --help" -- "$current") ;;
    report) mapfile -t COMPREPLY < <(compgen -W "--job --document --series --language --template --issue --replaces --because --out --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    check) mapfile -t COMPREPLY < <(compgen -W "--head --certificate --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    documents) mapfile -t COMPREPLY < <(compgen -W "--open --out --withdraw --because --json --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    demands) mapfile -t COMPREPLY < <(compgen -W "--list --import --export --json --help" -- "$current"; compgen -f -- "$current") ;;
    completeness) mapfile -t COMPREPLY < <(compgen -W "--job --json --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    labels) mapfile -t COMPREPLY < <(compgen -W "--job --out --sheets --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    listen) mapfile -t COMPREPLY < <(compgen -W "--format --json --for --record --help" -- "$current") ;;
    plan) mapfile -t COMPREPLY < <(compgen -W "--from --ics --json --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    book) mapfile -t COMPREPLY < <(compgen -W "--count --list --export --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    bundle) mapfile -t COMPREPLY < <(compgen -W "--job --out --help" -- "$current"; compgen -f -X '!*.fortitor' -- "$current") ;;
    backup | unbundle | copy) mapfile -t COMPREPLY < <(compgen -W "--help" -- "$current"; compgen -f -- "$current") ;;
  esac
}
complete -o filenames -F _fortitorctl fortitorctl
