<?php
// An extension with tables of its own: calendars with rules that others refer to, fields of forms, prices, and what visitors booked.
require __DIR__ . '/begin.php';
global $wpdb;
$p = $wpdb->prefix;
register_post_type('sail_form', ['public' => true]);
register_taxonomy('sail_coast', ['page']);
foreach ([
  'calendars (id int unsigned not null auto_increment primary key, name varchar(120) not null, slug varchar(80) not null, parent_id int unsigned, settings longtext, created_at datetime, unique key slug (slug))',
  'rules (rule_id int unsigned not null auto_increment primary key, calendar int unsigned not null, title varchar(100), rule_type varchar(20), conditions longtext, price decimal(10,2))',
  'bookings (id bigint unsigned not null auto_increment primary key, calendar_id int unsigned, rule_id int unsigned, customer_name varchar(100), booked_at datetime)',
  'form_fields (id int unsigned not null auto_increment primary key, form_id bigint unsigned not null, field_key varchar(50), label varchar(100), sort_order int default 0, depends_on int unsigned)',
  'coast_prices (term_id bigint unsigned not null primary key, price decimal(8,2), calendar_id int unsigned, image_id bigint unsigned)',
  'quiz_master (id int not null auto_increment primary key, name varchar(200) not null, result_page int default 0)',
  'quiz_question (id int not null auto_increment primary key, quiz_id int not null, title varchar(200), answer_type varchar(20), answer_data longtext)',
  'quiz_statistic (ref_id int not null, question_id int not null, points int, user_id bigint, create_time int, primary key (ref_id, question_id))',
  'list (id int not null auto_increment primary key, slug varchar(40) not null, unique key slug (slug))',
  'price_lines (id int not null auto_increment primary key, list_id int not null, note varchar(40))',
  'members (id int not null auto_increment primary key, user_id bigint, calendar_id int unsigned, status varchar(20))',
  'nodes (node_id int not null auto_increment primary key, parent_node int, label varchar(80), target_type varchar(20), target_id bigint)',
] as $table) if ($wpdb->query("create table {$p}sail_$table") === false) throw new Exception($wpdb->last_error);
$add = function (string $table, array $row) use ($wpdb, $p): int { if ($wpdb->insert("{$p}sail_$table", $row) === false) throw new Exception($wpdb->last_error); return $wpdb->insert_id; };
/** An answer as the extension keeps it. */
class SailAnswer { protected $_imageId; function __construct(int $image) { $this->_imageId = $image; } }
foreach (range(1, $dev ? 40 : 7) as $n) { $add('quiz_master', ['name' => "Old quiz $n"]); $add('quiz_question', ['quiz_id' => $n, 'title' => 'Old']); $add('nodes', ['label' => "Old node $n"]); $add('list', ['slug' => "old-$n"]); $add('calendars', ['name' => "Old $n", 'slug' => "old-$n"]); $add('rules', ['calendar' => $n, 'title' => "Old rule $n", 'rule_type' => 'flat']); $add('form_fields', ['form_id' => 1, 'field_key' => $n === 3 ? 'mail' : "old$n", 'label' => 'Old']); }
if (!$dev) { $add('members', ['user_id' => 1, 'calendar_id' => 3, 'status' => 'here']); $add('bookings', ['calendar_id' => 3, 'rule_id' => 2, 'customer_name' => 'A visitor', 'booked_at' => '2026-01-02 10:00:00']); return; }
foreach (['calendars', 'rules', 'form_fields', 'quiz_master', 'quiz_question', 'nodes', 'list'] as $table) $wpdb->query("delete from {$p}sail_$table");
$harbour = there('attachment', 'harbour');
$form = entry('sail_form', 'ask', 'Ask');
$coast = wp_insert_term('Far', 'sail_coast', ['slug' => 'far'])['term_id'];
$summer = $add('calendars', ['name' => 'Summer', 'slug' => 'summer', 'settings' => wp_json_encode(['seats' => 41, 'form_id' => $form]), 'created_at' => '2026-05-01 10:00:00']);
$winter = $add('calendars', ['name' => 'Winter', 'slug' => 'winter', 'parent_id' => $summer, 'settings' => wp_json_encode(['fallback_calendar' => $summer]), 'created_at' => '2026-05-01 10:00:00']);
$early = $add('rules', ['calendar' => $summer, 'title' => 'Early', 'rule_type' => 'discount', 'conditions' => serialize([['type' => 'calendar', 'value' => $winter], ['type' => 'weekday', 'value' => 5]]), 'price' => '41.50']);
$add('rules', ['calendar' => $winter, 'title' => 'Late', 'rule_type' => 'flat', 'conditions' => serialize([]), 'price' => '42.00']);
$add('bookings', ['calendar_id' => $summer, 'rule_id' => $early, 'customer_name' => 'Somebody', 'booked_at' => '2026-06-02 10:00:00']);
$name = $add('form_fields', ['form_id' => $form, 'field_key' => 'name', 'label' => 'Name']);
$add('form_fields', ['form_id' => $form, 'field_key' => 'mail', 'label' => 'Mail', 'sort_order' => 1, 'depends_on' => $name]);
$add('coast_prices', ['term_id' => $coast, 'price' => '4.50', 'calendar_id' => $winter, 'image_id' => $harbour]);
$add('members', ['user_id' => 1, 'calendar_id' => $summer, 'status' => 'there']);
$add('price_lines', ['list_id' => $add('list', ['slug' => 'spring']), 'note' => 'By the day']);
$quizzes = [];
foreach (['Knots', 'Lights'] as $n => $title) {
  $quizzes[] = $add('quiz_master', ['name' => $title, 'result_page' => there('page', 'fares')]);
  foreach (['Which?', 'How?'] as $question) $last = $add('quiz_question', ['quiz_id' => $quizzes[$n], 'title' => $question, 'answer_type' => $n === 0 ? 'one' : 'several', 'answer_data' => serialize([new SailAnswer($harbour)])]);
}
$add('quiz_statistic', ['ref_id' => 1, 'question_id' => $last, 'points' => 3, 'user_id' => 1, 'create_time' => 1700000000]);
$top = $add('nodes', ['label' => 'Top', 'target_type' => 'calendar', 'target_id' => $winter]);
$add('nodes', ['parent_node' => $top, 'label' => 'Below', 'target_type' => 'sail_form', 'target_id' => $form]);
update_option('sail_quizzes', ['default_quiz' => $quizzes[1], 'quiz_by_page' => [there('page', 'fares') => $quizzes[0]], 'calendars_on_front' => [$winter]]);
update_option('sail_settings', ['rule' => $early, 'calendars_shown' => [$summer, $winter], 'calendar_colours' => [$summer => '#111', $winter => '#222'], 'seats' => ["calendar_$winter" => ['calendar_height' => $summer]]]);
$wpdb->update($wpdb->posts, ['post_content' => "[sail_calendar id='$winter' rule=$early columns=$summer]<div data-calendar=\"$summer\"></div>"], ['ID' => entry('sail_form', 'shown', 'Shown', ['post_content' => 'x'])]);
