// The desktop is told of an export's end as the Desktop Notifications Specification 1.2 (freedesktop.org) has it: a
// stand-in for the desktop's own service takes the call. Run under dbus-run-session, which gives it a bus of its own.
#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusVirtualObject>
#include <QTest>
#include <gtest/gtest.h>

#include "app/export/export_queue.h"

namespace virga::test::notification_test {
namespace {

class Desktop : public QDBusVirtualObject {
public:
    QString introspect(const QString&) const override { return {}; }
    bool handleMessage(const QDBusMessage& message, const QDBusConnection& bus) override {
        if (message.interface() != "org.freedesktop.Notifications" || message.member() != "Notify") return false;
        told.push_back(message);
        bus.send(message.createReply(uint(told.size())));
        return true;
    }
    std::vector<QDBusMessage> told;
};

TEST(Notifications, AreSentAsTheSpecificationHasThem) {
    if (!qEnvironmentVariableIsSet("VIRGA_OWN_BUS")) GTEST_SKIP() << "run under dbus-run-session";
    QDBusConnection bus = QDBusConnection::connectToBus(QDBusConnection::SessionBus, "desktop");
    ASSERT_TRUE(bus.isConnected());
    Desktop desktop;
    ASSERT_TRUE(bus.registerVirtualObject("/org/freedesktop/Notifications", &desktop));
    ASSERT_TRUE(bus.registerService("org.freedesktop.Notifications"));
    tellDesktop("Exported", "heat.mp4, 120 frames");
    ASSERT_TRUE(QTest::qWaitFor([&] { return !desktop.told.empty(); }, 5000));
    const QDBusMessage& call = desktop.told[0];
    EXPECT_EQ(call.signature(), "susssasa{sv}i");
    EXPECT_EQ(call.arguments()[0].toString(), "Virga");
    EXPECT_EQ(call.arguments()[3].toString(), "Exported");
    EXPECT_EQ(call.arguments()[4].toString(), "heat.mp4, 120 frames");
    EXPECT_EQ(call.arguments()[7].toInt(), -1) << "it goes when the desktop thinks so";
}

} // namespace
} // namespace virga::test::notification_test
