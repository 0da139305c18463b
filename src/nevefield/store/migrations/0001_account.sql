CREATE TABLE account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(80) NOT NULL,
  name VARCHAR(120) NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  level TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'in every roster: 0 none, 1 look, 2 prepare, 3 approve, 4 administer',
  created_at DATETIME(6) NOT NULL,
  UNIQUE KEY account_sign_in (sign_in),
  CONSTRAINT account_level CHECK (level <= 4)
)
