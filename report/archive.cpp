#include "report/archive.h"

#define POINTERHOLDER_TRANSITION 4  // the library of today, not of yesterday
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFEFStreamObjectHelper.hh>
#include <qpdf/QPDFEmbeddedFileDocumentHelper.hh>
#include <qpdf/QPDFFileSpecObjectHelper.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFWriter.hh>
#include <qpdf/QUtil.hh>

#include <QColorSpace>

#include "report/page.h"

namespace fortitor {
namespace {

std::string xmp(const About& a) {
  const auto e = [](const std::string& s) { return page::escaped(s); };
  std::string out =
      "<?xpacket begin=\"\xEF\xBB\xBF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?>\n<x:xmpmeta xmlns:x=\"adobe:ns:meta/\">"
      "<rdf:RDF xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\">"
      "<rdf:Description rdf:about=\"\" xmlns:pdfaid=\"http://www.aiim.org/pdfa/ns/id/\"><pdfaid:part>3</pdfaid:part>"
      "<pdfaid:conformance>B</pdfaid:conformance></rdf:Description>"
      "<rdf:Description rdf:about=\"\" xmlns:dc=\"http://purl.org/dc/elements/1.1/\"><dc:format>application/pdf"
      "</dc:format><dc:title><rdf:Alt><rdf:li xml:lang=\"x-default\">" +
      e(a.title) + "</rdf:li></rdf:Alt></dc:title><dc:creator><rdf:Seq><rdf:li>" + e(a.author) +
      "</rdf:li></rdf:Seq></dc:creator><dc:description><rdf:Alt><rdf:li xml:lang=\"x-default\">" + e(a.subject) +
      "</rdf:li></rdf:Alt></dc:description><dc:language><rdf:Bag><rdf:li>" + e(a.language) +
      "</rdf:li></rdf:Bag></dc:language></rdf:Description>"
      "<rdf:Description rdf:about=\"\" xmlns:xmp=\"http://ns.adobe.com/xap/1.0/\"><xmp:CreatorTool>Fortitor " +
      FORTITOR_VERSION + "</xmp:CreatorTool><xmp:CreateDate>" + e(a.made_at) + "</xmp:CreateDate></rdf:Description>";
  if (!a.seals.empty())
    // A property of our own is described in the file itself (ISO 19005-1, 6.7.8).
    out +=
        "<rdf:Description rdf:about=\"\" xmlns:pdfaExtension=\"http://www.aiim.org/pdfa/ns/extension/\" "
        "xmlns:pdfaSchema=\"http://www.aiim.org/pdfa/ns/schema#\" "
        "xmlns:pdfaProperty=\"http://www.aiim.org/pdfa/ns/property#\"><pdfaExtension:schemas><rdf:Bag><rdf:li "
        "rdf:parseType=\"Resource\"><pdfaSchema:schema>Seals</pdfaSchema:schema><pdfaSchema:namespaceURI>urn:fortitor:"
        "</pdfaSchema:namespaceURI><pdfaSchema:prefix>fortitor</"
        "pdfaSchema:prefix><pdfaSchema:property><rdf:Seq><rdf:li "
        "rdf:parseType=\"Resource\"><pdfaProperty:name>seals</pdfaProperty:name><pdfaProperty:valueType>Text"
        "</pdfaProperty:valueType><pdfaProperty:category>internal</pdfaProperty:category><pdfaProperty:description>"
        "Hashes of what the document rests on</pdfaProperty:description></rdf:li></rdf:Seq></pdfaSchema:property>"
        "</rdf:li></rdf:Bag></pdfaExtension:schemas></rdf:Description>"
        "<rdf:Description rdf:about=\"\" xmlns:fortitor=\"urn:fortitor:\"><fortitor:seals>" +
        e(a.seals) + "</fortitor:seals></rdf:Description>";
  return out + "</rdf:RDF></x:xmpmeta>\n<?xpacket end=\"r\"?>";
}

QPDFObjectHandle name(const char* n) {
  return QPDFObjectHandle::newName(n);
}

}  // namespace

Outcome<QByteArray> archived(const QByteArray& bytes, const About& about, const std::vector<Attachment>& attachments) {
  try {
    QPDF pdf;
    pdf.setSuppressWarnings(true);
    pdf.processMemoryFile("document", bytes.constData(), size_t(bytes.size()));
    QPDFObjectHandle root = pdf.getRoot();
    QPDFObjectHandle metadata = QPDFObjectHandle::newStream(&pdf, xmp(about));
    metadata.getDict().replaceKey("/Type", name("/Metadata"));
    metadata.getDict().replaceKey("/Subtype", name("/XML"));
    root.replaceKey("/Metadata", pdf.makeIndirectObject(metadata));
    root.replaceKey("/Lang", QPDFObjectHandle::newUnicodeString(about.language));
    QPDFObjectHandle shown = QPDFObjectHandle::newDictionary();
    shown.replaceKey("/DisplayDocTitle", QPDFObjectHandle::newBool(true));
    root.replaceKey("/ViewerPreferences", shown);
    // What its colours are: sRGB, by the profile that the toolkit has.
    const QByteArray icc = QColorSpace(QColorSpace::SRgb).iccProfile();
    QPDFObjectHandle profile = QPDFObjectHandle::newStream(&pdf, icc.toStdString());
    profile.getDict().replaceKey("/N", QPDFObjectHandle::newInteger(3));
    QPDFObjectHandle intent = QPDFObjectHandle::newDictionary();
    intent.replaceKey("/Type", name("/OutputIntent"));
    intent.replaceKey("/S", name("/GTS_PDFA1"));
    intent.replaceKey("/OutputConditionIdentifier", QPDFObjectHandle::newUnicodeString("sRGB IEC61966-2.1"));
    intent.replaceKey("/Info", QPDFObjectHandle::newUnicodeString("sRGB IEC61966-2.1"));
    intent.replaceKey("/DestOutputProfile", pdf.makeIndirectObject(profile));
    QPDFObjectHandle intents = QPDFObjectHandle::newArray();
    intents.appendItem(pdf.makeIndirectObject(intent));
    root.replaceKey("/OutputIntents", intents);
    for (QPDFObjectHandle o : pdf.getAllObjects())  // a reader that smooths pictures shows others than were kept
      if (o.isStream() && o.getDict().hasKey("/Interpolate"))
        o.getDict().replaceKey("/Interpolate", QPDFObjectHandle::newBool(false));
    // One place for what the file says of itself: the metadata.
    pdf.getTrailer().removeKey("/Info");
    QPDFEmbeddedFileDocumentHelper files(pdf);
    QPDFObjectHandle associated = QPDFObjectHandle::newArray();
    for (const Attachment& a : attachments) {
      auto stream = QPDFEFStreamObjectHelper::createEFStream(pdf, a.bytes.toStdString());
      stream.setSubtype(a.type);
      stream.setModDate(QUtil::qpdf_time_to_pdf_time(QUtil::QPDFTime(2000, 1, 1, 0, 0, 0, 0)));
      auto spec = QPDFFileSpecObjectHelper::createFileSpec(pdf, a.name, stream);
      spec.setDescription(a.description);
      spec.getObjectHandle().replaceKey("/AFRelationship", name("/Source"));
      files.replaceEmbeddedFile(a.name, spec);
      associated.appendItem(spec.getObjectHandle());
    }
    if (!attachments.empty()) root.replaceKey("/AF", associated);
    QPDFWriter writer(pdf);
    writer.setOutputMemory();
    writer.setMinimumPDFVersion("1.7");
    writer.setDeterministicID(true);
    writer.setCompressStreams(false);
    writer.setObjectStreamMode(qpdf_o_disable);
    writer.write();
    const std::shared_ptr<Buffer> out(writer.getBufferSharedPointer());
    return QByteArray(reinterpret_cast<const char*>(out->getBuffer()), qsizetype(out->getSize()));
  } catch (const std::exception& e) {
    return InputError{std::string("The PDF could not be made fit for an archive: ") + e.what() + ".", {}};
  }
}

Outcome<QByteArray> bound(const std::vector<QByteArray>& files) {
  if (files.empty()) return InputError{"There is nothing to bind.", {}};
  try {
    std::vector<std::unique_ptr<QPDF>> open;  // the pages of each are read when all is written
    for (const QByteArray& bytes : files) {
      open.push_back(std::make_unique<QPDF>());
      open.back()->setSuppressWarnings(true);
      open.back()->processMemoryFile("part", bytes.constData(), size_t(bytes.size()));
      if (open.size() > 1)
        for (const QPDFObjectHandle& page : open.back()->getAllPages()) open.front()->addPage(page, false);
    }
    QPDFWriter writer(*open.front());
    writer.setOutputMemory();
    writer.setDeterministicID(true);
    writer.setStreamDataMode(qpdf_s_preserve);
    writer.setObjectStreamMode(qpdf_o_disable);
    writer.write();
    const std::shared_ptr<Buffer> out(writer.getBufferSharedPointer());
    return QByteArray(reinterpret_cast<const char*>(out->getBuffer()), qsizetype(out->getSize()));
  } catch (const std::exception& e) {
    return InputError{std::string("The pages could not be bound: ") + e.what() + ".", {}};
  }
}

Outcome<std::vector<Attachment>> attachments_of(const QByteArray& bytes) {
  try {
    QPDF pdf;
    pdf.setSuppressWarnings(true);
    pdf.processMemoryFile("document", bytes.constData(), size_t(bytes.size()));
    std::vector<Attachment> out;
    QPDFEmbeddedFileDocumentHelper files(pdf);
    for (const auto& [key, spec] : files.getEmbeddedFiles()) {
      QPDFObjectHandle stream = spec->getEmbeddedFileStream();
      const auto data = stream.getStreamData();
      out.push_back({key, "", spec->getDescription(),
                     QByteArray(reinterpret_cast<const char*>(data->getBuffer()), qsizetype(data->getSize()))});
    }
    return out;
  } catch (const std::exception& e) {
    return InputError{std::string("The PDF cannot be read: ") + e.what() + ".", {}};
  }
}

Outcome<std::vector<std::string>> faults_of_archive(const QByteArray& bytes) {
  std::vector<std::string> out;
  try {
    QPDF pdf;
    pdf.setSuppressWarnings(true);
    pdf.processMemoryFile("document", bytes.constData(), size_t(bytes.size()));
    QPDFObjectHandle root = pdf.getRoot();
    if (pdf.isEncrypted()) out.push_back("it is encrypted");
    if (pdf.getTrailer().hasKey("/Info")) out.push_back("it speaks of itself in a second place");
    QPDFObjectHandle intents = root.getKey("/OutputIntents");
    bool profile = false;
    if (intents.isArray())
      for (int i = 0; i < intents.getArrayNItems(); ++i)
        profile = profile || intents.getArrayItem(i).hasKey("/DestOutputProfile");
    if (!profile) out.push_back("no profile says what its colours are");
    QPDFObjectHandle metadata = root.getKey("/Metadata");
    std::string words;
    if (metadata.isStream()) {
      const auto data = metadata.getRawStreamData();
      words.assign(reinterpret_cast<const char*>(data->getBuffer()), data->getSize());
      if (metadata.getDict().hasKey("/Filter")) out.push_back("its metadata are packed");
    }
    if (words.find("<pdfaid:part>3</pdfaid:part>") == std::string::npos ||
        words.find("<pdfaid:conformance>B</pdfaid:conformance>") == std::string::npos)
      out.push_back("its metadata do not say that it is PDF/A-3b");
    for (QPDFObjectHandle o : pdf.getAllObjects()) {
      if (!o.isDictionary() && !o.isStream()) continue;
      QPDFObjectHandle d = o.isStream() ? o.getDict() : o;
      const auto kind = [&](const char* key) {
        return d.getKey(key).isName() ? d.getKey(key).getName() : std::string();
      };
      if (kind("/Type") == "/FontDescriptor" && !d.hasKey("/FontFile") && !d.hasKey("/FontFile2") &&
          !d.hasKey("/FontFile3"))
        out.push_back("a font is not within");
      if (kind("/S") == "/JavaScript" || kind("/S") == "/Launch") out.push_back("something would run");
      if (kind("/Type") == "/Filespec" && d.hasKey("/EF") && !d.hasKey("/AFRelationship"))
        out.push_back("an attachment does not say what it is to the document");
      if (kind("/Subtype") == "/Image" && d.getKey("/Interpolate").isBool() && d.getKey("/Interpolate").getBoolValue())
        out.push_back("a picture is smoothed by the reader");
      if (o.isStream() && kind("/Filter") == "/LZWDecode")
        out.push_back("a stream is packed in a way that archives refuse");
    }
    return out;
  } catch (const std::exception& e) {
    return InputError{std::string("The PDF cannot be read: ") + e.what() + ".", {}};
  }
}

}  // namespace fortitor
