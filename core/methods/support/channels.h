// The channels that methods share, with the words by which a machine's file is recognised.
#pragma once

#include "core/record/field.h"

namespace fortitor::channels {

ChannelSpec time(bool required);
ChannelSpec force(bool required = true);
ChannelSpec extension();
ChannelSpec strain();
ChannelSpec strain_lateral();
ChannelSpec crosshead(bool required = false);
ChannelSpec displacement(std::string name, bool required);
ChannelSpec torque();
ChannelSpec angle();
/// What a channel is called stands in words.json. A strain gauge read by an indicator; `words` tell it from the others.
ChannelSpec gauge(std::string name, bool required, std::vector<std::string> words);

}  // namespace fortitor::channels
