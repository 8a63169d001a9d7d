#include "core/methods/support/channels.h"

namespace fortitor::channels {

using D = Dimension;

ChannelSpec time(bool required) {
  return {"time", {}, D::time, required, {"zeit", "time", "temps", "tiempo", "tempo", "=t", "=s", "elapsed", "uhr"},
          true};
}

ChannelSpec force(bool required) {
  return {"force",
          {},
          D::force,
          required,
          {"force", "load", "kraft", "carga", "fuerza", "forza", "charge", "effort", "=last", "prüflast", "prueflast",
           "=f", "=p", "carico"},
          true};
}

ChannelSpec extension() {
  return {"extension",
          {},
          D::length,
          false,
          {"extension", "extens",   "exten",    "exto",         "dehnung",     "allong",      "ext",    "estens",
           "alarg",     "=e",       "=dl",      "verlängerung", "laengenaend", "längenänd",   "ansetz", "feindehn",
           "allung",    "estensim", "extensóm", "extensomè",    "alargam",     "gauge length"},
          false};
}

ChannelSpec strain() {
  return {"strain",
          {},
          D::strain,
          false,
          {"strain", "dehnung", "deform", "exten", "ext", "allong", "allung", "alargam", "dilat", "=e", "epsilon", "=ε",
           "stauchung"},
          true};
}

ChannelSpec strain_lateral() {
  return {"strain_lateral",
          {},
          D::strain,
          false,
          {"lateral", "transvers", "transv", "width strain", "querdehnung", "quer", "width", "trasvers", "larghezza"},
          false};
}

ChannelSpec crosshead(bool required) {
  return {"crosshead",
          {},
          D::length,
          required,
          {"crosshead", "cross-head", "travel",  "stroke",    "position", "displac", "traverse",
           "traversen", "weg",        "course",  "pos",       "=x",       "=z",      "carrera",
           "desplaz",   "corsa",      "spostam", "déplac",    "deplac",   "hub",     "posizione",
           "posición",  "posicion",   "kolben",  "recorrido", "traversa", "ram",     "actuator"},
          true};
}

ChannelSpec displacement(std::string name, bool required) {
  ChannelSpec c = crosshead(required);
  c.name = std::move(name);
  for (const char* word : {"deflection", "deflect", "durchbieg", "flèche", "fleche", "freccia", "flecha", "lvdt", "=d",
                           "displacement", "dial"})
    c.words.push_back(word);
  return c;
}

ChannelSpec torque() {
  return {"torque",
          {},
          D::torque,
          true,
          {"torque", "drehmoment", "moment", "couple", "coppia", "momento", "torsor", "=t", "=mt"},
          true};
}

ChannelSpec angle() {
  return {"angle",
          {},
          D::angle,
          true,
          {"angle", "twist", "rotation", "winkel", "drehwinkel", "angolo", "ángulo", "angulo", "rotazione"},
          true};
}

ChannelSpec gauge(std::string name, bool required, std::vector<std::string> words) {
  return {std::move(name), {}, D::microstrain, required, std::move(words), false};
}

}  // namespace fortitor::channels
