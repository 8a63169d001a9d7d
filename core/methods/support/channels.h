// The channels that methods share, with the words by which a machine's file is recognised.
#pragma once

#include "core/record/field.h"

namespace fortitor::channels {

ChannelSpec time(bool required);
ChannelSpec force(bool required = true, std::string label = "force");
ChannelSpec extension();
ChannelSpec strain();
ChannelSpec strain_lateral();
ChannelSpec crosshead(bool required = false);
ChannelSpec displacement(std::string name, std::string label, bool required);
ChannelSpec torque();
ChannelSpec angle();
/// A strain gauge read by an indicator; `words` tell it from the others.
ChannelSpec gauge(std::string name, std::string label, bool required, std::vector<std::string> words);

}  // namespace fortitor::channels
